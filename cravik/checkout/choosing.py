"""What a buyer decides and the price hangs on: the options, and where it goes."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from datetime import date
from itertools import product
from typing import Any

from django import forms

from cravik.checkout.where import WhereForm
from cravik.core.basket import Basket, BasketLine
from cravik.core.destination import asked_of, supposed_place
from cravik.core.money_text import in_figures
from cravik.core.offer import Line, Offer
from cravik.core.options import Option

SoldOut = Sequence[tuple[str, ...]]


class OptionsForm(forms.Form):
    """One field for each group of options of a line. What stands there first is the first that is left."""

    def __init__(self, data: Mapping[str, Any] | None, line: Line, sold_out: SoldOut, **kwargs: Any) -> None:
        super().__init__(data, **kwargs)
        self.line = line
        every = list(product(*([option.name for option in choice.options] for choice in line.choices)))
        first = next((names for names in every if names not in sold_out), every[0])
        self.sold_out = [names for names in every if names in sold_out]
        for number, choice in enumerate(line.choices):
            self.fields[f"option-{number}"] = forms.ChoiceField(
                label=choice.name,
                choices=[(option.name, _words(option)) for option in choice.options],
                initial=first[number],
                widget=forms.RadioSelect,
                error_messages={
                    "required": f"Choose {choice.name}.",
                    "invalid_choice": "Choose one of these.",
                },
            )

    @property
    def picked(self) -> dict[str, str]:
        """The option of each group by the group's name: what was sent, else what stands there first."""
        picked = {}
        for number, choice in enumerate(self.line.choices):
            name = f"option-{number}"
            wanted = self.data.get(name) or self.initial.get(name) or self.fields[name].initial
            names = [option.name for option in choice.options]
            picked[choice.name] = wanted if wanted in names else str(self.fields[name].initial)
        return picked

    @property
    def is_gone(self) -> bool:
        """Whether what is picked is sold out."""
        return tuple(self.picked.values()) in self.sold_out

    @property
    def gone_words(self) -> list[str]:
        return [", ".join(names) for names in self.sold_out]


class Choosing:
    """Everything of a page that the price hangs on. ``data`` is to be judged, ``initial`` is just shown."""

    def __init__(
        self,
        offer: Offer,
        home: str,
        sold_out: SoldOut = (),
        data: Mapping[str, Any] | None = None,
        initial: Mapping[str, Any] | None = None,
    ) -> None:
        shown = dict(initial or {})
        self.where = WhereForm(data, asked_of(offer), supposed_place(offer, home), initial=shown)
        self.options = OptionsForm(data, offer.lines[0], sold_out, initial=shown)

    @property
    def matters(self) -> bool:
        """Whether the buyer decides anything at all."""
        return self.where.asked.country or bool(self.options.fields)

    def is_valid(self) -> bool:
        return self.where.is_valid() & self.options.is_valid()

    def basket(self, on: date) -> Basket:
        """The basket as it is decided so far."""
        picked, line = self.options.picked, self.options.line
        lines = (BasketLine(line.key, options=picked),) if picked else ()
        return Basket(on, lines, destination=self.where.place, tax_number=self.where.tax_number)


def _words(option: Option) -> str:
    if not option.add:
        return option.name
    sign = "+" if option.add.minor > 0 else ""
    return f"{option.name} ({sign}{in_figures(option.add)})"
