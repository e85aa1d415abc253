"""What if: cases that the seller thinks of, each a basket, with what the buyer pays and what is left for the seller.

The cases are kept beside the draft as basket documents, without their day. What nobody picked yet is as by
default; until a seller changes the table, its one case is what buyers bought most.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import date
from functools import cached_property
from typing import Any

from django import forms
from django.http import QueryDict

from cravik.catalogue.stock import stock_left
from cravik.core.documents.basket import FORMAT, read_basket, write_basket
from cravik.core.documents.data import BasketData, PickedData, PlaceData, put, put_or_drop
from cravik.core.errors import BasketRefused, InvalidDocument
from cravik.core.pricing.basket import Basket
from cravik.core.pricing.default_basket import default_basket
from cravik.core.pricing.delivery import ANYWHERE
from cravik.core.pricing.destination import asked_of, default_place
from cravik.core.pricing.offer import EXACTLY_ONE, Line, Offer
from cravik.core.pricing.price import LevelsPrice, OpenPrice
from cravik.core.pricing.quote import Quote, quote
from cravik.core.pricing.schedule import ChoicePlan
from cravik.core.text.countries import country_words
from cravik.core.text.default_basket_words import default_basket_words
from cravik.core.text.faults import fault_words
from cravik.core.text.plan_words import plan_words
from cravik.links.models import Link, items_of_draft
from cravik.ui.fields import AmountField, CountField, clean_amount
from cravik.ui.form_data import FormData
from cravik.upkeep.hooks import Hook

MAX_CASES = 12
#: A country that none is: what is sent “anywhere” goes there, and no rate names it.
ELSEWHERE = "ZZ"

#: What buyers of the link bought most, as a basket document without its day, or None while nobody bought.
bought_most: Hook[[Link], BasketData | None] = Hook("cravik.links.bench.what_if.bought_most")


class CaseForm(forms.Form):
    """One case. ``picked`` is what it begins with."""

    def __init__(self, offer: Offer, home: str, picked: BasketData, data: FormData | None, number: int | str) -> None:
        self.offer, self.home, self.number = offer, home, number
        self._picked = {line["key"]: line for line in picked.get("lines", [])}
        super().__init__(data, prefix=f"case-{number}", initial=self._initial(picked))
        for line in offer.lines:
            self.fields.update(self._fields_of(line))
        if places := _places(offer, home, str(self.initial["place"])):
            self.fields["place"] = forms.ChoiceField(label="Place", choices=places)
        if offer.codes:
            codes = [("", "none"), *((code.code, code.code) for code in offer.codes)]
            self.fields["code"] = forms.ChoiceField(label="Code", choices=codes, required=False)
        if isinstance(offer.plan, ChoicePlan):
            plans = [(choice.key, plan_words(choice.plan)) for choice in offer.plan.of]
            self.fields["plan"] = forms.ChoiceField(label="Paid", choices=plans)
        if offer.fee and offer.fee.buyer_may_cover:
            self.fields["cover_fee"] = forms.BooleanField(label="The buyer covers the fee", required=False)

    def _fields_of(self, line: Line) -> dict[str, forms.Field]:
        of = f" of {line.name}" if len(self.offer.lines) > 1 else ""
        fields: dict[str, forms.Field] = {}
        if line.quantity != EXACTLY_ONE or line.optional:
            label = f"How many{of}" if not line.optional else f"{line.name}, how many"
            fields[f"quantity.{line.key}"] = CountField(label=label, least=0, most=1_000_000_000)
        for place, choice in enumerate(line.choices):
            options = [(option.name, option.name) for option in choice.options]
            fields[f"option.{line.key}.{place}"] = forms.ChoiceField(label=f"{choice.name}{of}", choices=options)
        if isinstance(line.price, LevelsPrice):
            levels = [(level.key, level.name) for level in line.price.levels]
            fields[f"level.{line.key}"] = forms.ChoiceField(label=f"Level{of}", choices=levels)
        if isinstance(line.price, OpenPrice):
            fields[f"amount.{line.key}"] = AmountField(label=f"Amount{of}")
        return fields

    def _initial(self, picked: BasketData) -> dict[str, Any]:
        shown: dict[str, Any] = {}
        for line in self.offer.lines:
            had: PickedData = self._picked.get(line.key, {})
            usual = "" if line.optional and not had else line.quantity.default
            shown[f"quantity.{line.key}"] = had.get("quantity") or usual
            for place, choice in enumerate(line.choices):
                name = had.get("options", {}).get(choice.name)
                known = [option.name for option in choice.options]
                shown[f"option.{line.key}.{place}"] = name if name in known else known[0]
            if isinstance(line.price, LevelsPrice):
                shown[f"level.{line.key}"] = had.get("level") or line.price.levels[0].key
            if isinstance(line.price, OpenPrice):
                shown[f"amount.{line.key}"] = had.get("amount") or _first_amount(line.price)
        home, plan = default_place(self.offer, self.home), self.offer.plan
        chosen = picked.get("destination")
        where = (chosen.get("country"), chosen.get("region")) if chosen else (home or ())
        return shown | {
            "place": "-".join(filter(None, where)),
            "code": code.code if (code := self.offer.code(picked.get("code") or "")) else picked.get("code") or "",
            "plan": picked.get("plan") or (plan.of[0].key if isinstance(plan, ChoicePlan) else ""),
            "cover_fee": picked.get("cover_fee", False),
        }

    @property
    def values(self) -> Mapping[str, Any]:
        """What its fields say, as far as it can be read."""
        return self.cleaned_data if self.is_bound and self.is_valid() else self.initial

    def clean(self) -> dict[str, Any]:
        for line in self.offer.lines:
            name = f"amount.{line.key}"
            if name in self.fields:
                amount = clean_amount(self, name, self.offer.currency)
                self.cleaned_data[name] = amount.major if amount is not None else ""
        return self.cleaned_data

    @property
    def document(self) -> BasketData:
        """The case as a basket document without its day."""
        values = self.values
        lines = [each for line in self.offer.lines if (each := self._line(line, values)) is not None]
        country, _, region = str(values.get("place") or "").partition("-")
        basket: BasketData = {"lines": lines}
        if country and "place" in self.fields:
            basket["destination"] = put_or_drop(PlaceData(country=country), region=region)
        return put_or_drop(
            basket, **{name: values.get(name) for name in ("code", "plan", "cover_fee") if name in self.fields}
        )

    def _line(self, line: Line, values: Mapping[str, Any]) -> PickedData | None:
        picked: PickedData = {"key": line.key}
        if f"quantity.{line.key}" in self.fields:
            quantity = values.get(f"quantity.{line.key}")
            if line.optional and not quantity:
                return None
            if quantity not in (None, ""):
                picked["quantity"] = int(quantity)
        if line.choices:
            picked["options"] = {
                choice.name: values[f"option.{line.key}.{place}"] for place, choice in enumerate(line.choices)
            }
        also = {name: f"{name}.{line.key}" for name in ("level", "amount")}
        return put_or_drop(picked, **{name: values.get(field) for name, field in also.items() if field in self.fields})


@dataclass(frozen=True)
class Case:
    """A case with its figures, or with why it cannot be bought."""

    form: CaseForm
    quote: Quote | None
    refusals: tuple[str, ...] = ()


class WhatIf:
    """The table of a link's draft; ``sent`` is what was typed into it."""

    def __init__(self, link: Link, today: date, sent: QueryDict | None = None) -> None:
        self.link, self.today, self.sent = link, today, sent
        self.offer = replace(link.offer, window=None)
        self.home = link.business.country

    @cached_property
    def cases(self) -> list[Case]:
        return [self._case(form) for form in self.forms]

    @cached_property
    def _default_basket(self) -> Basket:
        """What the page beside the bench supposes of a buyer who has not chosen yet."""
        items = {line: item.pk for line, item in items_of_draft(self.link).items()}
        stock = stock_left(set(items.values())) if items else {}
        sold_out = {line: stock[pk].sold_out for line, pk in items.items() if pk in stock}
        return default_basket(self.offer, self.today, self.home, sold_out)

    @cached_property
    def at_first(self) -> Quote | None:
        """What that page says at first; None where the buyer has to say something before there is a sum."""
        try:
            return quote(self.offer, self._default_basket)
        except BasketRefused:
            return None

    @property
    def default_words(self) -> str:
        """What the first case is made of, in words."""
        return default_basket_words(self.offer, self._default_basket)

    def _quoted(self, picked: BasketData) -> Quote | None:
        try:
            return quote(self.offer, read_basket({"format": FORMAT, "on": self.today.isoformat(), **picked}))
        except (BasketRefused, InvalidDocument):
            return None

    @cached_property
    def forms(self) -> list[CaseForm]:
        if self.sent is None:
            return [self._form(picked, None, number) for number, picked in enumerate(self._kept)]
        numbers = [number for number in self.sent.getlist("case") if number.isdecimal() and len(number) < 4]
        first = self._kept[0] if self._kept else {}
        return [self._form(first, self.sent, number) for number in numbers[:MAX_CASES]]

    def _form(self, picked: BasketData, sent: FormData | None, number: int | str) -> CaseForm:
        return CaseForm(self.offer, self.home, picked, sent, number)

    @cached_property
    def _kept(self) -> Sequence[BasketData]:
        if self.link.what_if is not None:
            return list(self.link.what_if)
        bought = next((found for found in bought_most.call(self.link) if found), None)
        # What was bought of a former version may be no more.
        still = bought if bought and self._quoted(bought) else None
        return [still or default_case(self.offer, self.today, self.home)]

    def _case(self, form: CaseForm) -> Case:
        if form.is_bound and not form.is_valid():
            return Case(form, None, tuple(str(each) for errors in form.errors.values() for each in errors))
        try:
            basket: Basket = read_basket({"format": FORMAT, "on": self.today.isoformat(), **form.document})
            return Case(form, quote(self.offer, basket))
        except (BasketRefused, InvalidDocument) as refused:
            return Case(form, None, tuple(dict.fromkeys(fault_words(fault) for fault in refused.faults)))

    @property
    def has_discount(self) -> bool:
        return bool(self.offer.codes)

    @property
    def has_delivery(self) -> bool:
        return self.offer.delivery is not None and any(line.ships for line in self.offer.lines)

    @property
    def has_tax(self) -> bool:
        return self.offer.tax is not None and bool(self.offer.tax.rates)

    @property
    def has_fee(self) -> bool:
        return self.offer.fee is not None

    @property
    def has_room(self) -> bool:
        return len(self.forms) < MAX_CASES


def default_case(offer: Offer, today: date, home: str) -> BasketData:
    """What is bought if nothing is changed, as a case."""
    basket = write_basket(default_basket(offer, today, home))
    return put(
        BasketData(), **{name: part for name, part in basket.items() if name in ("lines", "destination", "plan")}
    )


def _first_amount(price: OpenPrice) -> str:
    """The amount that a case begins with: what stands there at first, or is suggested, or the least."""
    first = price.start or (price.suggested[0] if price.suggested else price.min)
    return first.major


def _places(offer: Offer, home: str, kept: str) -> list[tuple[str, str]]:
    """The places between which the offer's sums may differ, and the one that is ``kept``; none where that does not
    matter."""
    asked = asked_of(offer)
    if not asked.country:
        return []
    zones = offer.delivery.zones if offer.delivery else ()
    named = [country for zone in zones for country in zone.countries if country != ANYWHERE]
    named += [rate.country for rate in offer.tax.rates] if offer.tax else []
    countries = [country for country in dict.fromkeys([home, *named]) if asked.serves(country)]
    places = []
    for country in countries:
        name = country_words(country)
        places += [
            (country, name),
            *((f"{country}-{region}", f"{name}, {region}") for region in asked.regions_of(country)),
        ]
    if kept and kept not in dict(places):
        country, _, region = kept.partition("-")
        places.append((kept, ", ".join(filter(None, (country_words(country), region)))))
    return [*places, (ELSEWHERE, "elsewhere")] if asked.countries is None and kept != ELSEWHERE else places
