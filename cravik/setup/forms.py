"""What the business is, and whom buyers reach."""

from __future__ import annotations

from django import forms

from cravik.core.errors import TaxNumberRefused
from cravik.core.link.tax_numbers import parse_tax_number
from cravik.core.text.faults import fault_words
from cravik.people.forms import NewBusinessForm, clean_statement
from cravik.ui.fields import LineField, MailAddressField, TextAreaField


class ContactForm(forms.Form):
    """Whom the buyers of one link ask, and what their statement says."""

    support_email = MailAddressField(
        label="Where buyers reach you", help_text="An e-mail address that strangers may see."
    )
    statement_text = forms.CharField(
        label="On the buyer's statement",
        max_length=40,
        help_text="5 to 22 letters, digits and spaces, so that buyers know the payment again.",
    )

    def clean_statement_text(self) -> str:
        return clean_statement(str(self.cleaned_data["statement_text"]))


class BusinessForm(NewBusinessForm):
    """The same, with what receipts say of who sells."""

    address = TextAreaField(
        label="Your address",
        longest=300,
        required=False,
        help_text="Receipts show it. A receipt with tax needs it.",
        widget=forms.Textarea(attrs={"rows": 3, "autocomplete": "street-address"}),
    )
    tax_number = LineField(
        label="Your tax number",
        longest=30,
        missing="",
        required=False,
        help_text="Receipts show it. In the European Union it begins with the country, such as IE1234567FA.",
    )

    class Meta(NewBusinessForm.Meta):
        fields = [*NewBusinessForm.Meta.fields, "address", "tax_number"]

    def clean_tax_number(self) -> str:
        typed = str(self.cleaned_data["tax_number"])
        try:
            return parse_tax_number(typed) if typed else ""
        except TaxNumberRefused as refused:
            raise forms.ValidationError(fault_words(refused.faults[0])) from None
