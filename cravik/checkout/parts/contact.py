"""Who pays. Asked always; nothing else is unless the seller asks it."""

from __future__ import annotations

from django import forms

from cravik.checkout.parts.base import OrderPart, Submitted
from cravik.ui.fields import LineField, MailAddressField


class ContactPart(OrderPart):
    name = "contact"
    template = "checkout/parts/contact.html"
    step = "Contact"
    may_go = ("phone",)
    fixed = ("name", "email")

    def add_fields(self) -> None:
        self.fields["name"] = LineField(
            label="Your name",
            longest=200,
            missing="Write your name, as it should stand on the receipt.",
            widget=forms.TextInput(attrs={"autocomplete": "name"}),
        )
        self.fields["email"] = MailAddressField(
            label="E-mail",
            widget=forms.EmailInput(attrs={"autocomplete": "email", "inputmode": "email"}),
            error_messages={"required": "Write your e-mail address: the receipt goes there."},
            help_text="For the receipt. If the payment doesn't go through, the seller may write to you once.",
        )
        phone = self.offered.version.content.asks.phone
        if phone != "no":
            self.fields["phone"] = LineField(
                label="Phone",
                longest=40,
                missing="Write a phone number.",
                required=phone == "required",
                help_text="" if phone == "required" else "Optional.",
                widget=forms.TextInput(attrs={"autocomplete": "tel", "inputmode": "tel"}),
            )

    def submit(self, to: Submitted) -> None:
        to.name, to.email = self.cleaned_data["name"], self.cleaned_data["email"]
        if phone := self.cleaned_data.get("phone"):
            to.answers.append({"key": "phone", "label": "Phone", "answer": phone})
