"""Several amounts that a buyer picks one of."""

from __future__ import annotations

from django import forms

from cravik.core.documents.data import LevelData, PriceData, put_or_drop
from cravik.core.documents.parts import MAX_LEVEL_WORDS, MAX_LEVELS
from cravik.links.bench.parts.prices.base import PricePart, major
from cravik.links.places.naming import free_key
from cravik.ui.fields import AmountField, LineField, form_rows


class LevelForm(forms.Form):
    """A level; ``key`` is what orders know it by, and stays when it is renamed."""

    key = forms.CharField(required=False, max_length=80, widget=forms.HiddenInput)
    name = LineField(label="Level", longest=120, missing="", required=False)
    amount = AmountField(label="Amount")
    words = LineField(label="What it gives", longest=MAX_LEVEL_WORDS, missing="", required=False)


LevelRows = form_rows(LevelForm, MAX_LEVELS, 0)


class LevelsPricePart(PricePart):
    kind = "levels"
    label = "Levels to pick from"
    template = "links/bench/prices/levels.html"

    def add_fields(self) -> None:
        levels = self.before.get("levels") or []
        initial = [{name: level.get(name, "") for name in ("key", "name", "amount", "words")} for level in levels]
        self.add_rows("levels", LevelRows, initial)

    def check(self) -> None:
        for row in self.lists["levels"].kept:
            self.amount(row, "amount")

    @property
    def piece(self) -> PriceData:
        levels: list[LevelData] = []
        for row in self.lists["levels"].kept:
            typed, amount = row.cleaned_data, self.amount(row, "amount")
            key, taken = typed["key"], [level["key"] for level in levels]
            if not key or key in taken:
                key = free_key(typed["name"], taken, "level")
            levels.append(
                put_or_drop(LevelData(key=key), name=typed["name"], amount=major(amount), words=typed["words"])
            )
        return {"kind": "levels", "levels": levels}

    @classmethod
    def amount_in(cls, price: PriceData) -> str:
        return next((str(level["amount"]) for level in price.get("levels", []) if level.get("amount")), "")

    @classmethod
    def begin(cls, amount: str) -> PriceData:
        first: LevelData = {"key": "level-1", "amount": amount} if amount else {"key": "level-1"}
        return {"kind": "levels", "levels": [first, {"key": "level-2"}]}
