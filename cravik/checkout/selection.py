"""What a buyer picked and fields on the page, through all of its parts, and what that costs."""

from __future__ import annotations

import re
from collections.abc import Iterable, Iterator, Mapping
from datetime import date, datetime
from functools import cached_property
from typing import Any

from django import forms
from django.http import QueryDict

from cravik.catalogue.stock import FEW_LEFT
from cravik.checkout.parts import LINE_PARTS, ORDER_PARTS, LinePart
from cravik.checkout.parts.base import Offered, PartRefused, PricedBasket, Submitted, texts_of
from cravik.checkout.parts.way import WayPart
from cravik.checkout.refusals import refusal_words
from cravik.core.english import counted
from cravik.core.errors import BasketRefused, Fault
from cravik.core.link.content import LinkContent
from cravik.core.pricing.basket import Basket, BasketLine
from cravik.core.pricing.offer import Line
from cravik.core.pricing.quote import Quote, quote
from cravik.core.text.pieces_words import in_all_words, left_words, word_of
from cravik.journal.fields import Touched
from cravik.setup.ways import NOTHING
from cravik.ui.fields import WrongField, wrong_fields
from cravik.ui.form_data import FormData

_LINE_PATH = re.compile(r"lines\[(\d+)\]\.(.+)", re.DOTALL)
_MAX_LINES, _MAX_KEY_LENGTH = 100, 80


def asks_for_means(quoted: Quote, content: LinkContent) -> bool:
    """Whether a buyer has to say with what they pay: something is due, now or later, or their card is kept."""
    return bool(quoted.due_now or quoted.schedule or content.asks.keep_card)


class LineForm(forms.Form):
    """The fields of one line of the offer, from every part that has some for it."""

    def __init__(self, offered: Offered, line: Line, data: FormData | None, initial: FormData | None) -> None:
        super().__init__(data, initial=dict(initial or {}))
        self.line = line
        self.locale, self.moment, self._offer = offered.locale, offered.moment, offered.offer
        self.item = offered.item_of(line)
        self._names: list[tuple[LinePart, list[str]]] = []
        for part in LINE_PARTS:
            fields = part.fields(line, offered)
            self.fields.update(fields)
            if fields:
                self._names.append((part, list(fields)))
        #: Whether nothing is left of it, whatever is chosen.
        self.is_all_gone = offered.is_gone(line)
        for field in self.fields.values() if self.is_all_gone and line.optional else ():
            field.disabled = True
        self._limits, self._steps = offered.version.content.limits, offered.version.content.steps
        self._pieces_left = offered.pieces_left(line)

    def parts(self) -> list[tuple[LinePart, list[forms.BoundField]]]:
        """The parts that have something to decide here, each with its fields."""
        return [(part, [self[name] for name in names]) for part, names in self._names]

    @property
    def typed(self) -> FormData:
        """What was sent, or what stands there at first."""
        return self.data if self.is_bound else self.initial

    @property
    def hint(self) -> str:
        """What a buyer may like to know of what is decided here."""
        return " ".join(filter(None, (part.hint(self.line, self.typed, self.locale) for part in LINE_PARTS)))

    @property
    def few(self) -> int | None:
        """How many pieces are left in stock of what is picked, where they are few."""
        if any(part.leaves_out(self.line, self.typed, self._offer) for part in LINE_PARTS):
            return None
        return self._few_in_stock

    @property
    def _few_in_stock(self) -> int | None:
        counts = (part.few_left(self.line, self.item, self.typed) for part in LINE_PARTS)
        return next((count for count in counts if count is not None), None)

    @property
    def count_words(self) -> str:
        """How many there are of it in all, or are left where that is few; nothing where any number may be sold."""
        left, most = self._pieces_left, self._limits.pieces.get(self.line.key)
        if left is None or most is None or self.is_all_gone:
            return ""
        word = word_of(self.line, self._limits)
        return left_words(left, word) if self.are_few_left else in_all_words(most, word).capitalize()

    @property
    def are_few_left(self) -> bool:
        """Whether so few of all that there are of it are left that its buyer should hurry."""
        left, most = self._pieces_left, self._limits.pieces.get(self.line.key)
        return left is not None and most is not None and left < most and left <= max(FEW_LEFT, most // 4)

    def beyond(self, wanted: int) -> Fault | None:
        """What is wrong with taking so many of it now, by what is left and by what one buyer may have."""
        for_one = self._limits.pieces_per_buyer.get(self.line.key)
        if for_one is not None and wanted > for_one:
            return self.too_many_for_one(for_one)
        left = min((each for each in (self._pieces_left, self._few_in_stock) if each is not None), default=None)
        if left is None or wanted <= left:
            return None
        return Fault("too_few_left", "quantity", word=word_of(self.line, self._limits), limit=left)

    def too_many_for_one(self, most: int, had: int = 0) -> Fault:
        """That one buyer may have so many, of which they ``had`` some already."""
        return Fault("too_many_for_one", "quantity", word=word_of(self.line, self._limits), had=had, limit=most)

    @property
    def left(self) -> int | None:
        """How many orders or pieces are left at its present price, where the page tells it."""
        return dict(self.moment.left).get(self.line.key)

    @property
    def left_words(self) -> str:
        """The same in words."""
        left, quantity = self.left or 0, self.line.quantity
        by_pieces = any(step.line == self.line.key and step.after_pieces for step in self._steps)
        if by_pieces or quantity.max == 1:
            return left_words(left, word_of(self.line, self._limits))
        return f"{counted(left, 'order', 'orders')} left"

    @property
    def is_gone(self) -> bool:
        """Whether what is picked of it is sold out."""
        return self.is_all_gone or any(part.is_gone(self.line, self.item, self.typed) for part in LINE_PARTS)

    @property
    def gone_words(self) -> list[str]:
        return [", ".join(names) for names in self.item.sold_out]


class Selection:
    """Every part of the page. ``data`` is what was sent, to be judged; ``shown`` what the fields show at first. What is
    ``locked`` stands there whatever was sent."""

    def __init__(
        self,
        offered: Offered,
        data: FormData | None = None,
        shown: FormData | None = None,
        locked: Mapping[str, str] | None = None,
    ) -> None:
        self.offered = offered
        locked = locked or {}
        data = _with_locked(data, locked) if data is not None else None
        self.data = data
        initial = dict(initial_fields(offered)) | dict(shown or {}) | dict(locked) if data is None else dict(locked)
        self.typed: FormData = data if data is not None else initial
        self.lines = [LineForm(offered, line, data, initial) for line in offered.offer.lines]
        self.parts = [part(offered, data, initial) for part in ORDER_PARTS]
        for form in self._forms():
            for name in form.fields.keys() & locked.keys():
                form.fields[name].disabled = True
                form.fields[name].help_text = "This is set by the link you followed."
        #: What is wrong and stands at no field.
        self.faults: list[Fault] = []

    @cached_property
    def matters(self) -> bool:
        """Whether the buyer decides anything that the sum hangs on."""
        return any(form.fields for form in self.lines) or any(part.decides and part.is_asked for part in self.parts)

    def picked(self, on: date, at: datetime) -> PricedBasket:
        """What is picked, and what it costs on that day and at that instant. Raises ``BasketRefused``, its faults at
        the paths of the basket or at the names of fields."""
        basket, faults = self._basket(on, at)
        offer = self.offered.version.offer_with(basket.code, self.offered.offer)
        try:
            quoted = quote(offer, basket)
        except BasketRefused as refused:
            raise BasketRefused(*faults, *refused.faults) from None
        if faults:
            raise BasketRefused(*faults)
        return PricedBasket(basket, quoted, offer)

    def beyond(self, quoted: Quote) -> list[Fault]:
        """What is wrong with how many are wanted, by what is left now and by what one buyer may have."""
        wanted = {line.key: line.quantity for line in quoted.lines}
        found = [(form, form.beyond(wanted[form.line.key])) for form in self.lines if form.line.key in wanted]
        return [self._at(form, fault) for form, fault in found if fault]

    def enough_of(self, key: str, most: int, had: int) -> Fault:
        """That a buyer who ``had`` so many of the line already would have more than the ``most`` that one may."""
        form = next(form for form in self.lines if form.line.key == key)
        return self._at(form, form.too_many_for_one(most, had))

    def _at(self, form: LineForm, fault: Fault) -> Fault:
        """The fault at the line's place in the basket."""
        return fault.placed(f"lines[{self._keys().index(form.line.key)}].{fault.at}")

    def _basket(self, on: date, at: datetime) -> tuple[Basket, list[Fault]]:
        faults: list[Fault] = []
        lines = []
        for key in self._keys():
            line = self.offered.offer.line(key)
            fields: dict[str, Any] = {}
            for part in LINE_PARTS:
                try:
                    fields |= part.read(key, line, self.typed, self.offered.offer.currency)
                except PartRefused as refused:
                    faults += refused.faults
            lines.append(BasketLine(key, **fields))
        order: dict[str, Any] = {}
        for each in self.parts:
            try:
                order |= each.basket()
            except PartRefused as refused:
                faults += refused.faults
        return Basket(on, tuple(lines), at=at, **order), faults

    def _keys(self) -> list[str]:
        """The lines that are in the basket, those that the offer does not have too: they are refused."""
        lines = self.offered.offer.lines
        offer = self.offered.offer
        keys = [line.key for line in lines if not any(part.leaves_out(line, self.typed, offer) for part in LINE_PARTS)]
        named = (part.line_of(name) for name in self.typed for part in LINE_PARTS)
        unknown = dict.fromkeys(key for key in named if key and self.offered.offer.line(key) is None)
        return (keys + [key[:_MAX_KEY_LENGTH] for key in unknown])[:_MAX_LINES]

    def way(self, quoted: Quote | None) -> str:
        """By which way it is paid: the one that was picked, or else the first; none where nothing is due, now or later,
        and no card is kept. Without a quote, something is supposed to be due."""
        if quoted is not None and not asks_for_means(quoted, self.offered.version.content):
            return NOTHING
        picked = str(self.typed.get(WayPart.name) or "")
        return picked if picked in self.offered.ways else self.offered.ways[0]

    def is_valid(self, way: str) -> bool:
        """Whether everything that stands beside the basket can be taken. Each part is asked, so that every fault is
        told at once; one that is needed only for another ``way`` to pay is left out."""
        asked: Iterable[forms.Form] = [*self.lines, *(part for part in self.parts if part.is_needed(way))]
        return all([form.is_valid() for form in asked])  # noqa: C419

    def submitted(self, way: str) -> Submitted:
        """What the parts say beside the basket, once they are valid."""
        submitted = Submitted()
        for part in self.parts:
            if part.is_asked and part.is_needed(way):
                part.submit(submitted)
        return submitted

    def typed_to_keep(self) -> dict[str, str | list[str]]:
        """What was typed, as its fields show it once more; nothing of the card."""
        forms_kept = [*self.lines, *(part for part in self.parts if part.is_kept)]
        typed = {name: texts_of(self.typed, name) for form in forms_kept for name in form.fields}
        return {name: texts if len(texts) > 1 else texts[0] for name, texts in typed.items() if texts}

    def put_at_fields(self, faults: Iterable[Fault]) -> None:
        """Put each refusal at its field, in the words that a buyer reads; what has none is kept for the page's head."""
        keys, put = self._keys(), dict[str, str]()
        for fault in faults:
            form, name = self._field_of(fault, keys)
            if form is None or name not in form.fields:
                self.faults.append(fault)
            elif put.get(name) == fault.at or not form.has_error(name):  # what can't be read is told, not what it lacks
                put[name] = fault.at
                if not form.is_bound:  # it only shows what was typed; Django expects that it was judged
                    form.cleaned_data = {}
                words = refusal_words(fault, self.offered.offer.currency, self.offered.locale)
                form.add_error(name, forms.ValidationError(words, code=fault.code))

    def _field_of(self, fault: Fault, keys: list[str]) -> tuple[forms.Form | None, str]:
        if found := _LINE_PATH.fullmatch(fault.at):
            number, part = int(found[1]), found[2]
            line = next((form for form in self.lines if number < len(keys) and form.line.key == keys[number]), None)
            for each in LINE_PARTS:
                if line is not None and part.split(".")[0] in each.fills:
                    return line, each.field_of(line.line, part)
            return None, ""
        for form in self._forms():
            if fault.at in form.fields:
                return form, fault.at
        for order_part in self.parts:
            for place, name in order_part.refused_at.items():
                if fault.at == place or fault.at.startswith(f"{place}."):
                    return order_part, name
        return None, ""

    def field_of(self, fault: Fault) -> str:
        """The name of the field at which the refusal stands; nothing where it stands at none."""
        form, name = self._field_of(fault, self._keys())
        return name if form is not None and name in form.fields else ""

    def wrong_of(self, filled: FormData, on: date, at: datetime) -> dict[str, str]:
        """Those fields of ``filled`` in which something stands that cannot be had, with their labels."""
        try:
            self.picked(on, at)
        except BasketRefused as refused:
            faulty = {self.field_of(fault) for fault in refused.faults}
        else:
            faulty = set()
        labels = {name: str(form[name].label) for form in self._forms() for name in form.fields}
        sent = type(self)(self.offered, data=dict(initial_fields(self.offered)) | dict(filled))
        sent.is_valid(NOTHING)
        faulty |= set(sent.typed_errors())
        return {name: labels[name] for name in filled if name in faulty}

    def _forms(self) -> Iterator[forms.Form]:
        yield from self.lines
        yield from self.parts

    def touched(self, way: str) -> Touched:
        """What is known of the fields of a page that was sent: all were passed, some left blank, some refused."""
        asked = [*self.lines, *(part for part in self.parts if part.is_needed(way))]
        names = [name for form in asked for name in form.fields]
        blank = [name for name in names if not any(text.strip() for text in texts_of(self.typed, name))]
        refused = [name for form in asked for name in form.fields if form.is_bound and form.has_error(name)]
        return Touched(names, blank, refused, refused[0] if refused else "")

    @property
    def wrong_fields(self) -> list[WrongField]:
        """The fields at which something is wrong, in their order."""
        return wrong_fields(list(self._forms()))

    def typed_errors(self) -> dict[str, str]:
        """What is wrong with fields in which something stands, by their names: for a page that is being filled in."""
        return {
            name: " ".join(str(error) for error in errors)
            for form in self._forms()
            for name, errors in form.errors.items()
            if name in form.fields and str(self.typed.get(name) or "").strip()
        }


def _with_locked(data: FormData, locked: Mapping[str, str]) -> FormData:
    """What was sent, with what is locked in its place."""
    if not locked:
        return data
    if isinstance(data, QueryDict):
        sent = data.copy()
        for name, value in locked.items():
            sent[name] = value
        return sent
    return {**data, **locked}


def initial_fields(offered: Offered) -> dict[str, str]:
    """What the page shows before anything is chosen."""
    shown: dict[str, str] = {}
    for line in offered.offer.lines:
        for part in LINE_PARTS:
            shown |= part.initial_values(line, offered)
    for kind in ORDER_PARTS:
        shown |= kind(offered, None, {}).initial_values()
    return shown


def fillable(offered: Offered, query: Mapping[str, str]) -> dict[str, str]:
    """What of an address's parameters may stand in the page's fields: never a card, a consent, or a tick for terms."""
    names = {name for line in offered.offer.lines for part in LINE_PARTS for name in part.fields(line, offered)}
    for kind in ORDER_PARTS:
        names |= kind(offered, None, {}).fillable()
    return {name: value[:500] for name, value in query.items() if name in names}
