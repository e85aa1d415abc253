"""An address of a link with something filled in, locked or not: made on a page of its own."""

from __future__ import annotations

from typing import Any
from urllib.parse import urlencode

from django import forms
from django.http import HttpResponse
from django.shortcuts import redirect, render
from django.views.decorators.http import require_safe

from cravik.core.pricing.offer import EXACTLY_ONE, Offer
from cravik.core.pricing.price import LevelsPrice, OpenPrice
from cravik.links.access import link_or_404
from cravik.links.models import Link
from cravik.links.places.locks import NotLockable, check_field, locked_query
from cravik.people.access import SellerRequest, seller_page
from cravik.people.roles import Permission
from cravik.setup.hosts import address_of
from cravik.ui.fields import AmountField, clean_amount


class FilledForm(forms.Form):
    """What the address fills in, by the names of the buyer's page; what is left empty is left to the buyer."""

    lock = forms.BooleanField(label="Lock it: buyers see it and cannot change it", required=False)

    def __init__(self, offer: Offer, data: Any) -> None:
        super().__init__(data)
        self.offer = offer
        for line in offer.lines:
            of = f" of {line.name}" if len(offer.lines) > 1 else ""
            if isinstance(line.price, LevelsPrice):
                levels = [("", "as the buyer picks"), *((level.key, level.name) for level in line.price.levels)]
                self.fields[f"level.{line.key}"] = forms.ChoiceField(label=f"Level{of}", choices=levels, required=False)
            if isinstance(line.price, OpenPrice):
                self.fields[f"amount.{line.key}"] = AmountField(label=f"Amount{of}, in {offer.currency}")
            if line.quantity != EXACTLY_ONE:
                self.fields[f"quantity.{line.key}"] = forms.CharField(
                    label=f"How many{of}",
                    max_length=12,
                    required=False,
                    widget=forms.TextInput(attrs={"inputmode": "numeric", "autocomplete": "off"}),
                )
        if offer.codes:
            codes = [("", "none"), *((code.code, code.code) for code in offer.codes)]
            self.fields["code"] = forms.ChoiceField(label="Discount code", choices=codes, required=False)
        self.order_fields([*(name for name in self.fields if name != "lock"), "lock"])

    def clean(self) -> dict[str, Any]:
        for name in [name for name in self.cleaned_data if name.startswith("amount.")]:
            amount = clean_amount(self, name, self.offer.currency)
            self.cleaned_data[name] = amount.major if amount is not None else ""
        for name, value in self.filled.items():
            try:
                check_field(self.offer, name, value)
            except NotLockable as refused:
                if not self.has_error(name):
                    self.add_error(name, str(refused))
        return self.cleaned_data

    @property
    def filled(self) -> dict[str, str]:
        return {name: str(value) for name, value in self.cleaned_data.items() if name != "lock" and value}

    @property
    def extras(self) -> dict[str, str]:
        """The ticks of the extras that are filled in."""
        keys = {name.partition(".")[2] for name in self.filled}
        return {f"take.{line.key}": "yes" for line in self.offer.lines if line.optional and line.key in keys}


@require_safe
@seller_page(Permission.SEE)
def filled_address(request: SellerRequest, link_id: int) -> HttpResponse:
    """The form, and below it the address, once something is filled in."""
    link = link_or_404(request, link_id)
    if link.effective is None:
        return redirect("links:bench", link.pk)
    form = FilledForm(link.offer, request.GET or None)
    address = _address(link, form) if form.is_bound and form.is_valid() and form.filled else ""
    context = {"link": link, "form": form, "address": address, "has_fields": len(form.fields) > 1}
    return render(request, "links/filled_address.html", context, status=200 if not form.errors else 400)


def _address(link: Link, form: FilledForm) -> str:
    page = address_of(link.business_id, link.path)
    query = locked_query(link.pk, form.offer, form.filled) if form.cleaned_data["lock"] else urlencode(form.filled)
    return f"{page}?{query}{f'&{urlencode(form.extras)}' if form.extras else ''}"
