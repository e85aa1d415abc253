"""A buyer asks for an invoice after they paid, and says to whom it is made out."""

from __future__ import annotations

from datetime import datetime

from django import forms
from django.db import transaction

from cravik.core.errors import TaxNumberRefused
from cravik.core.link.tax_numbers import parse_tax_number
from cravik.core.text.faults import fault_words
from cravik.orders.invoicing.issuing import issue_for_order
from cravik.orders.models import DocumentKind, IssuedDocument, Order, OrderSettings
from cravik.orders.settings import settings_of
from cravik.ui.fields import LineField, TextAreaField
from cravik.ui.places import country_choices


class InvoiceForm(forms.Form):
    """To whom an invoice is made out; it begins with what is known already."""

    company = LineField(label="Company", longest=120, missing="", required=False)
    name = LineField(label="Name", longest=120, missing="Write a name.")
    street = TextAreaField(
        label="Street and number",
        longest=200,
        widget=forms.Textarea(attrs={"rows": 2, "autocomplete": "street-address"}),
    )
    postcode = LineField(label="Postcode", longest=20, missing="", required=False)
    town = LineField(label="Town", longest=100, missing="Write the town.")
    country = forms.ChoiceField(label="Country", error_messages={"required": "Choose a country from the list."})
    tax_number = LineField(
        label="Tax number",
        longest=30,
        missing="",
        required=False,
        help_text="Only for a business. It changes nothing about what you paid.",
    )

    def __init__(self, order: Order, data: object = None) -> None:
        where = order.checkout.where
        known = {name: where.get(name, "") for name in self.base_fields} | {"name": order.buyer_name}
        known["country"] = known["country"] or order.business.country
        super().__init__(data, initial=known)  # type: ignore[arg-type]  # what was sent, or nothing
        self.fields["country"].choices = country_choices()  # type: ignore[attr-defined]  # a choice field
        self.fields["street"].error_messages["required"] = "Write the street and number."
        self.fields["country"].error_messages["invalid_choice"] = "Choose a country from the list."

    def clean_tax_number(self) -> str:
        typed = str(self.cleaned_data["tax_number"])
        try:
            return parse_tax_number(typed) if typed else ""
        except TaxNumberRefused as refused:
            raise forms.ValidationError(fault_words(refused.faults[0])) from None


def may_ask(order: Order) -> bool:
    """Whether the buyer may: it was paid, its seller gives invoices, and there is none yet."""
    if not order.was_paid or settings_of(order.business_id).invoices == OrderSettings.Invoices.NEVER:
        return False
    return not IssuedDocument.objects.filter(order=order, kind=DocumentKind.INVOICE).exists()


@transaction.atomic
def ask_for_invoice(order: Order, made_out_to: dict[str, str], now: datetime) -> IssuedDocument | None:
    """The order's invoice, made out so where there was none yet."""
    fresh = Order.objects.select_for_update().get(id=order.pk)
    if fresh.invoice_to is None:
        fresh.invoice_to = made_out_to
        fresh.save(update_fields=["invoice_to"])
    documents = issue_for_order(fresh, now)
    return next((each for each in documents if each.kind == DocumentKind.INVOICE), None)
