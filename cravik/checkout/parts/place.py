"""Where the buyer is: asked where something is sent or taxed by place, or where the seller asks it; and what an invoice
needs."""

from __future__ import annotations

import re
from dataclasses import replace
from typing import Any, ClassVar

from django import forms

from cravik.checkout.parts.base import OrderPart, Submitted
from cravik.core.errors import CoreError, PostcodeRefused, TaxNumberRefused
from cravik.core.link.postcodes import parse_postcode
from cravik.core.link.tax_numbers import number_of, parse_tax_number
from cravik.core.pricing.destination import asked_of, default_place
from cravik.core.pricing.tax import Place, TaxRules, rates_of
from cravik.core.text.countries import country_words
from cravik.core.text.faults import fault_words
from cravik.ui.fields import LineField, LongSelect, TextAreaField
from cravik.ui.places import country_choices


class PlacePart(OrderPart):
    name = "place"
    template = "checkout/parts/place.html"
    step = "Delivery"
    decides = True
    refused_at: ClassVar = {"destination": "country", "tax_number": "tax_number"}
    refusals: ClassVar = {
        "destination_missing": "Choose a country.",
        "destination_not_served": "It can't be sent there. Choose a country from the list.",
    }
    pieces: ClassVar = {
        "region": "checkout/parts/region.html",
        "tax-number-says": "checkout/parts/_tax_number_says.html",
    }

    def add_fields(self) -> None:
        asks = self.offered.version.content.asks
        asked = asked_of(self.offered.offer)
        wanted = asks.address in ("optional", "required")
        self.must = asked.address or asks.address == "required"
        self.asked = replace(asked, address=asked.address or wanted, country=asked.country or wanted)
        self.is_sent = asked.address
        self.place_counts = asked.country
        self.place_supposed = default_place(self.offered.offer, self.offered.home)
        self.wants_invoice = asks.invoice == "optional"
        if self.asked.address:
            self._add_address()
        if self.asked.country:
            self._add_country()
        if self.wants_invoice:
            self.fields["company"] = LineField(
                label="Company, if you need an invoice",
                longest=120,
                missing="",
                required=False,
                widget=forms.TextInput(attrs={"autocomplete": "organization"}),
            )
        if asked.tax_number or self.wants_invoice:
            self.fields["tax_number"] = LineField(
                label="Tax number, if you're buying for a business",
                longest=30,
                missing="",
                required=False,
                help_text=""
                if not asked.tax_number
                else "With a valid number, your business may account for the tax itself.",
                widget=forms.TextInput(attrs={"autocomplete": "off"}),
            )

    def _add_address(self) -> None:
        self.fields["street"] = TextAreaField(
            label="Street and number",
            longest=200,
            required=self.must,
            error_messages={"required": "Enter the address to send it to." if self.is_sent else "Write your address."},
            widget=forms.Textarea(attrs={"rows": 2, "autocomplete": "shipping street-address"}),
        )
        self.fields["postcode"] = LineField(
            label="Postcode",
            longest=20,
            missing="",
            required=False,
            widget=forms.TextInput(attrs={"autocomplete": "shipping postal-code"}),
        )
        self.fields["town"] = LineField(
            label="Town",
            longest=100,
            missing="Write the town.",
            required=self.must,
            widget=forms.TextInput(attrs={"autocomplete": "shipping address-level2"}),
        )

    def _add_country(self) -> None:
        choices = [choice for choice in country_choices() if self.asked.serves(choice[0])]
        attributes = {"autocomplete": "shipping country" if self.asked.address else "country"}
        # Whether it is sent there is the core's to say.
        self.fields["country"] = forms.CharField(
            label="Country", required=False, widget=LongSelect(attrs=attributes, choices=choices)
        )
        if regions := self.asked.regions_of(self.text("country")):
            choices = [("", "elsewhere in the country"), *((region, region) for region in regions)]
            self.fields["region"] = forms.CharField(
                label="Region", required=False, widget=forms.Select(choices=choices)
            )

    def initial_values(self) -> dict[str, str]:
        if not self.asked.country:
            return {}
        return {"country": self.place_supposed.country if self.place_supposed else self.offered.home}

    def clean_country(self) -> str:
        country = str(self.cleaned_data["country"]).strip().upper()
        if country and country not in dict(country_choices()):
            raise forms.ValidationError("Choose a country from the list.", code="country_unknown")
        if not country and self.must and not self.is_sent:  # what is sent nowhere is the core's to refuse
            raise forms.ValidationError("Choose a country from the list.", code="destination_missing")
        return country

    def clean_tax_number(self) -> str:
        typed = self.cleaned_data["tax_number"]
        try:
            return parse_tax_number(typed) if typed else ""
        except TaxNumberRefused as refused:
            raise _at_field(refused) from None

    def clean(self) -> dict[str, Any]:
        cleaned = super().clean() or {}
        country, postcode = cleaned.get("country"), cleaned.get("postcode", "")
        if self.asked.address and country and (self.must or postcode):
            try:
                cleaned["postcode"] = parse_postcode(postcode, country)
            except PostcodeRefused as refused:
                self.add_error("postcode", _at_field(refused))
        return cleaned

    def basket(self) -> dict[str, Any]:
        place = self.place
        fields: dict[str, Any] = {"destination": place} if place else {}
        return fields | ({"tax_number": self.counting_number} if self.counting_number else {})

    @property
    def counting_number(self) -> str | None:
        """The number that was typed, where tax falls to nothing for its firm: it is one of the buyer's country by its
        check digits, and that is not the seller's."""
        tax, place = self.offered.offer.tax, self.place
        if tax is None or place is None or not self._may_be_reversed(tax, place):
            return None
        return number_of(self.text("tax_number"), place.country)

    @staticmethod
    def _may_be_reversed(tax: TaxRules, place: Place) -> bool:
        """Whether a firm of that place accounts for some of the tax itself, since the seller said so."""
        return place.country != tax.seller_country and any(rate.reverse_charge for rate in rates_of(place, tax.rates))

    @property
    def number_counts_not(self) -> str:
        """The buyer's country, where a number was typed that would have taken tax off if it were one of its."""
        tax, place = self.offered.offer.tax, self.place
        if tax is None or place is None or self.counting_number or "tax_number" not in self.fields:
            return ""
        matters = self.text("tax_number") and self._may_be_reversed(tax, place)
        return country_words(place.country) if matters else ""

    @property
    def place(self) -> Place | None:
        """Where the buyer is, as far as it is fields and the price hangs on it."""
        country = self.text("country").upper()
        if not re.fullmatch(r"[A-Z]{2}", country, re.ASCII):
            return None
        region = self.text("region")
        return Place(country, region if region in self.asked.regions_of(country) else None)

    def submit(self, to: Submitted) -> None:
        names = ("country", "region", "street", "postcode", "town", "tax_number", "company")
        to.where |= {name: self.cleaned_data[name] for name in names if self.cleaned_data.get(name)}
        if self.counting_number and self.place:
            # What was checked, for the order: the check digits of that country's numbers, in no register.
            to.where |= {"tax_number": self.counting_number, "tax_number_of": self.place.country}


def _at_field(refused: CoreError) -> forms.ValidationError:
    (fault,) = refused.faults
    return forms.ValidationError(fault_words(fault), code=fault.code)
