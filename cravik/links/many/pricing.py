"""Changing the prices of many links by a percentage or an amount."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace
from datetime import datetime
from fractions import Fraction
from typing import Any

from django import forms

from cravik.core.documents.data import put
from cravik.core.documents.link_draft import complete
from cravik.core.documents.offer import write_offer
from cravik.core.errors import InvalidDocument
from cravik.core.pricing.offer import Offer
from cravik.core.pricing.repricing import NotRepriced, changed_price
from cravik.core.text.change_text import read_change
from cravik.core.text.faults import fault_words
from cravik.core.text.price_words import price_in_words
from cravik.links.bench.changes import Change
from cravik.links.bench.saving import change_parts
from cravik.links.many.base import NotDone, PublishingAct
from cravik.links.models import Link
from cravik.people.actors import Actor
from cravik.people.models import Business
from cravik.ui.places import currency_choices


class PriceAct(PublishingAct):
    name = "price"
    title = "Change the price"
    verb = "Change their prices"
    done = "changed"

    change = forms.CharField(
        label="By",
        max_length=30,
        error_messages={"required": "Write how much, such as 5 %, -10 % or +2.00."},
        help_text="Examples: 5 %, -10 % or +2.00. It changes each thing's present price. Later prices, codes, extras"
        " for options and own prices of a way to pay stay.",
        widget=forms.TextInput(attrs={"autocomplete": "off", "placeholder": "5 %"}),
    )
    currency = forms.ChoiceField(label="An amount is in", choices=currency_choices)
    ending = forms.ChoiceField(
        label="Round to the nearest",
        choices=[("", "cent"), *((ending, f"price ending in .{ending}") for ending in ("00", "50", "95"))],
        required=False,
    )

    def __init__(self, business: Business, now: datetime, data: Any = None) -> None:
        super().__init__(business, now, data)
        self.fields["currency"].initial = business.currency

    def clean(self) -> dict[str, Any]:
        typed = super().clean() or {}
        if "change" in typed and "currency" in typed:
            try:
                change = read_change(typed["change"], typed["currency"])
                ending = Fraction(int(typed["ending"]), 100) if typed.get("ending") else None
                typed["change"] = replace(change, ending=ending)
            except InvalidDocument as refused:
                self.add_error("change", fault_words(refused.faults[0]))
        return typed

    def words_of(self, link: Link) -> str:
        before, after = self._before(link), self._after(link)
        was, now = price_in_words(before), price_in_words(after)
        if before == after:
            raise NotDone.of("no_difference")
        if complete(put(link.draft, offer=write_offer(after))) is None:
            raise NotDone.of("undercut")
        return f"{f'{was} → {now}' if was != now else f'{was}, in part'}{self.after_words(link)}"

    def do(self, link: Link, by: Actor) -> None:
        had_changes = link.has_unpublished_changes
        changed = change_parts(link, list(self._changes(link)), link.revision, self.now, by=by).link
        self.publish(changed, by, had_changes=had_changes)

    def _changes(self, link: Link) -> Iterator[Change]:
        before = {line["key"]: line for line in write_offer(self._before(link))["lines"]}
        for line in write_offer(self._after(link))["lines"]:
            if line["price"] != before[line["key"]]["price"]:
                yield Change("price", line["price"], line["key"])

    def _before(self, link: Link) -> Offer:
        content = complete(link.draft)
        if content is None:
            raise NotDone.of("unfinished")
        return content.offer

    def _after(self, link: Link) -> Offer:
        offer = self._before(link)
        try:
            lines = tuple(
                replace(line, price=changed_price(line.price, self.cleaned_data["change"])) for line in offer.lines
            )
        except NotRepriced as refused:
            raise NotDone(*refused.faults) from refused
        return replace(offer, lines=lines)
