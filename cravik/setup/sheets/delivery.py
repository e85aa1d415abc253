"""Delivery: zones of countries, and one of five ways to charge in each."""

from __future__ import annotations

import re
from collections.abc import Mapping
from typing import Any

from django import forms

from cravik.core.documents.defaults import read_defaults
from cravik.core.errors import InvalidDocument
from cravik.core.pricing import delivery
from cravik.core.pricing.delivery import Zone
from cravik.core.pricing.money import Money
from cravik.core.text.faults import fault_words
from cravik.core.text.sentence_whole_order import charge_words
from cravik.people.models import Business
from cravik.ui.fields import AmountField, LineField, Part, PercentField, all_valid, clean_amount, form_rows
from cravik.ui.places import format_countries, parse_countries

MAX_ZONES = 8
MAX_BANDS = 8
CHARGES = [
    (delivery.FlatCharge.kind, "the same for every order"),
    (delivery.PerItemCharge.kind, "by how many: one sum for the first, another for each more"),
    (delivery.ByValue.kind, "by what the order is worth"),
    (delivery.ByWeight.kind, "by weight"),
    (delivery.PercentCharge.kind, "a percentage of what the order is worth"),
]
_AT_ZONE = re.compile(r"delivery\.zones\[(\d+)\]")
_MISSING = "Write the amount; 0 is possible."


class DeliveryForm(forms.Form):
    how = forms.ChoiceField(
        label="Delivery",
        choices=[("none", "I charge nothing for delivery"), ("zones", "By zones")],
        widget=forms.RadioSelect,
    )


class ZoneForm(forms.Form):
    """A zone."""

    remove = forms.BooleanField(label="Remove this zone when you save", required=False)
    name = LineField(label="Zone", longest=60, missing="", required=False)
    countries = forms.CharField(
        label="Countries",
        required=False,
        max_length=6000,
        widget=forms.Textarea(attrs={"rows": 2}),
        help_text="Names or two-letter codes, with commas. “EU” and “everywhere else” are understood.",
    )
    kind = forms.ChoiceField(label="Charged", choices=CHARGES)
    amount = AmountField(label="Charge")
    first = AmountField(label="For the first")
    next = AmountField(label="For each more")
    percent = PercentField(label="Per cent", required=False)
    free_from = AmountField(label="Free from, if ever")

    def clean_countries(self) -> list[str]:
        codes, unknown = parse_countries(self.cleaned_data["countries"])
        if unknown:
            names = "” and “".join(each[:60] for each in unknown[:5])
            raise forms.ValidationError(f"“{names}” is no country that we know. Its two-letter code may help.")
        return codes


class BandForm(forms.Form):
    """From where on what is charged."""

    start = forms.CharField(label="From", required=False, max_length=60, widget=forms.TextInput())
    amount = AmountField(label="Charge")


class ZoneRows:
    """A zone and its bands on the page."""

    def __init__(self, data: Mapping[str, Any] | None, place: int, zone: Zone | None) -> None:
        prefix = f"zone-{place}"
        self.is_there = zone is not None
        self.most_g = zone.most_g if zone else None
        self.words = charge_words(zone) if zone else ""
        self.form = ZoneForm(data, prefix=prefix, initial=_initial(zone))
        bands = _bands_initial(zone)
        self.bands = form_rows(BandForm, MAX_BANDS, 1 if bands else 2)(data, prefix=f"{prefix}-band", initial=bands)

    @property
    def is_open(self) -> bool:
        """Whether it is shown whole at first: where something is wrong, or was not saved yet."""
        faulty = bool(self.form.errors) or any(self.bands.errors)
        return faulty or bool(self.form.is_bound and self.form["countries"].value())


class DeliverySheet:
    template = "setup/sheets/delivery.html"

    def __init__(
        self, data: Mapping[str, Any] | None, document: dict[str, Any], business: Business, currency: str = ""
    ) -> None:
        defaults = read_defaults(document)
        self.currency = currency or business.currency
        effective = defaults.delivery_in(self.currency)
        self.document: dict[str, Any] = document
        self.other_currency = defaults.currency if defaults.delivery and not effective else ""
        self.form = DeliveryForm(data, initial={"how": "zones" if effective else "none"})
        zones: list[Zone | None] = list(effective.zones if effective else ())
        slots = min(MAX_ZONES, len(zones) + 2)
        if data is not None:
            slots = MAX_ZONES
        zones += [None] * (slots - len(zones))
        self.zones = [
            ZoneRows(data, place, zone)
            for place, zone in enumerate(zones)
            if data is None or f"zone-{place}-kind" in data
        ]

    @property
    def parts(self) -> list[Part]:
        return [self.form, *(part for zone in self.zones for part in (zone.form, zone.bands))]

    def is_valid(self) -> bool:
        if not all_valid(self.parts):
            return False
        if self.form.cleaned_data["how"] == "none":
            self.document = {"currency": self.currency}
            return True
        wanted = [zone for zone in self.zones if self._is_wanted(zone)]
        if not wanted and not any(zone.form.errors for zone in self.zones):
            self.form.add_error("how", "Name the countries of at least one zone, or charge nothing.")
        documents = [self._document(zone) for zone in wanted]
        if self.form.errors or any(zone.form.errors or any(zone.bands.errors) for zone in self.zones):
            return False
        self.document = {"currency": self.currency, "delivery": {"zones": documents}}
        try:
            read_defaults(self.document)
        except InvalidDocument as error:
            for fault in error.faults:
                at = _AT_ZONE.match(fault.at)
                form = wanted[int(at[1])].form if at else self.form
                form.add_error(None, fault_words(fault))
            return False
        return True

    def _is_wanted(self, zone: ZoneRows) -> bool:
        typed = zone.form.cleaned_data
        if typed["remove"]:
            return False
        if typed["countries"]:
            return True
        if zone.is_there or zone.form.has_changed() or zone.bands.kept:
            words = "Name the countries of this zone (“everywhere else” is possible), or remove it."
            zone.form.add_error("countries", words)
        return False

    def _document(self, zone: ZoneRows) -> dict[str, Any]:
        form, typed = zone.form, zone.form.cleaned_data
        free_from = clean_amount(form, "free_from", self.currency)
        document: dict[str, Any] = {
            "name": typed["name"] or format_countries(typed["countries"])[:60],
            "countries": typed["countries"],
            "charge": {"kind": typed["kind"]} | self._charge(zone),
        }
        return document | ({"free_from": free_from.major} if free_from else {})

    def _charge(self, zone: ZoneRows) -> dict[str, Any]:
        form, typed = zone.form, zone.form.cleaned_data
        match typed["kind"]:
            case delivery.FlatCharge.kind:
                return {"amount": self._major(form, "amount")}
            case delivery.PerItemCharge.kind:
                return {"first": self._major(form, "first"), "next": self._major(form, "next")}
            case delivery.PercentCharge.kind:
                if typed["percent"] is None:
                    form.add_error("percent", "Write the percentage.")
                    return {}
                return {"percent": typed["percent"].text}
            case kind:
                bands = [self._band(row, by_weight=kind == delivery.ByWeight.kind) for row in zone.bands.kept]
                if not any(bands) and not any(zone.bands.errors):
                    form.add_error("kind", "Write at least one row of charges below, from 0 on.")
                document: dict[str, Any] = {"bands": [band for band in bands if band]}
                # The heaviest parcel has no field here yet; what a document brought in is kept.
                is_heaviest_kept = kind == delivery.ByWeight.kind and zone.most_g is not None
                return document | ({"most_g": zone.most_g} if is_heaviest_kept else {})

    def _band(self, row: forms.Form, *, by_weight: bool) -> dict[str, Any] | None:
        typed = row.cleaned_data
        amount = self._major(row, "amount")
        if not by_weight:
            start = clean_amount(row, "start", self.currency, "Write the value it starts from; the first is 0.")
            return {"from": (start or Money(0, self.currency)).major, "amount": amount}
        grams = re.fullmatch(r"\s*(\d{1,9})\s*g?\s*", typed.get("start", ""), re.ASCII)
        if not grams:
            row.add_error("start", "Write whole grams, such as 500; the first is 0.")
            return None
        return {"from_g": int(grams[1]), "amount": amount}

    def _major(self, form: forms.Form, name: str) -> str:
        return (clean_amount(form, name, self.currency, _MISSING) or Money(0, self.currency)).major


def _initial(zone: Zone | None) -> dict[str, Any]:
    if zone is None:
        return {"kind": CHARGES[0][0]}
    initial: dict[str, Any] = {
        "name": zone.name,
        "countries": format_countries(zone.countries),
        "kind": zone.charge.kind,
        "free_from": zone.free_from.major if zone.free_from else "",
    }
    match zone.charge:
        case delivery.FlatCharge(amount=amount):
            initial["amount"] = amount.major
        case delivery.PerItemCharge(first=first, next=following):
            initial |= {"first": first.major, "next": following.major}
        case delivery.PercentCharge(percent=percent):
            initial["percent"] = percent.text
    return initial


def _bands_initial(zone: Zone | None) -> list[dict[str, str]]:
    match zone.charge if zone else None:
        case delivery.ByValue(bands=bands):
            return [{"start": band.from_.major, "amount": band.amount.major} for band in bands]
        case delivery.ByWeight(bands=bands):
            return [{"start": str(band.from_g), "amount": band.amount.major} for band in bands]
    return []
