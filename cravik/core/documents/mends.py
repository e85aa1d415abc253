"""What mends an offer that advice was given on, where one change does: the offer's document without the matter.

``_MENDS`` has one function for each code of the advice; a code without one has no mend, only a place to look at.
"""

from __future__ import annotations

import copy
import re
from collections.abc import Callable
from typing import Any, NamedTuple, cast

from cravik.core.coded import Coded
from cravik.core.documents.data import LineData, OfferData, put
from cravik.core.errors import Fault
from cravik.core.pricing.money import Money
from cravik.core.pricing.offer import Offer
from cravik.core.pricing.percent import WHOLE
from cravik.core.pricing.tax import STANDARD

_STEP = re.compile(r"(\w+)(?:\[(\d+)\])?")


class Mend(NamedTuple):
    """What the mend does, and the offer's document after it."""

    done: Coded
    offer: OfferData


class _Place:
    """The part of a copy of the document to which a path leads, and those that it stands in.

    Raises ``LookupError`` where the document has no such part, as with settings that it follows.
    """

    def __init__(self, document: OfferData, at: str) -> None:
        self.document = _with_own_part(document, at)
        self.parts: list[Any] = [self.document]
        self.steps: list[str | int] = []
        for name, number in _STEP.findall(at):
            for step in [name, int(number)] if number else [name]:
                self.steps.append(step)
                self.parts.append(self.parts[-1][step])

    def remove(self) -> None:
        """Take the part out of what holds it."""
        del self.parts[-2][self.steps[-1]]

    @property
    def line(self) -> LineData:
        """The line of the offer in which it stands."""
        line: LineData = self.parts[2]
        return line


def _with_own_part(document: OfferData, at: str) -> OfferData:
    """A copy of the document in which the part that the path leads through may be changed; the rest is shared."""
    name, number = _STEP.findall(at)[0]
    if name == "lines":
        lines, line = document["lines"], int(number)
        return put(document, lines=[*lines[:line], copy.deepcopy(lines[line]), *lines[line + 1 :]])
    return put(document, **{name: copy.deepcopy(cast(dict[str, Any], document)[name])})


#: What a mend did to the place; None where it can do nothing.
_Change = Callable[[_Place, Offer], Coded | None]


def mend_for(advice: Fault, document: OfferData, offer: Offer) -> Mend | None:
    """The mend of the advice, or None. ``document`` may be a draft of the ``offer`` that follows some settings."""
    change = _MENDS.get(advice.code)
    if change is None:
        return None
    try:
        place = _Place(document, advice.at)
        done = change(place, offer)
    except LookupError:
        return None
    return Mend(done, place.document) if done else None


def _drop_former_price(place: _Place, _: Offer) -> Coded | None:
    place.remove()
    return Coded("former_price_dropped")


def _put_levels_in_order(place: _Place, offer: Offer) -> Coded | None:
    levels = place.line["price"]["levels"]
    levels.sort(key=lambda level: Money.parse(level["amount"], offer.currency).minor)
    return Coded("levels_in_order")


def _price_each_unit_by_itself(place: _Place, _: Offer) -> Coded | None:
    price = place.line["price"]
    if price["method"] == "incremental" or any(_is_something(each.get("flat")) for each in price["breaks"]):
        return None
    price["method"] = "incremental"
    return Coded("each_piece_priced")


def _is_something(amount: str | None) -> bool:
    """Whether a written amount is more than nothing."""
    return bool(amount and amount.strip("0.,"))


def _allow_up_to_the_break(place: _Place, _: Offer) -> Coded | None:
    reached = place.line["price"]["breaks"][-1]["from"]
    place.line["quantity"]["max"] = reached
    return Coded("break_in_reach", count=reached)


def _allow_a_whole_pack(place: _Place, _: Offer) -> Coded | None:
    size = place.line["price"]["size"]
    place.line["quantity"]["max"] = size
    return Coded("whole_pack", count=size)


def _ask_for_enough(place: _Place, offer: Offer) -> Coded | None:
    fee = offer.fee
    if fee is None or fee.percent.ten_thousandths >= WHOLE:
        return None
    price = place.line["price"]
    enough = fee.covered(Money(1, offer.currency))
    least = Money(-(-enough.minor // (place.line.get("quantity") or {}).get("min", 1)), offer.currency)
    amounts = [price.get("max"), price.get("start"), *price.get("suggested", [])]
    if any(amount is not None and Money.parse(amount, offer.currency) < least for amount in amounts):
        return None
    price["min"] = least.major
    return Coded("enough_asked", minor=least.minor, currency=least.currency)


def _charge_it_like_the_rest(place: _Place, _: Offer) -> Coded | None:
    place.remove()
    return Coded("charged_like_the_rest")


def _drop_the_choice(place: _Place, _: Offer) -> Coded | None:
    if place.line.get("choices") and place.parts[-1]["options"][0].get("add"):
        return None
    place.remove()
    return Coded("choice_dropped")


def _swap_days(place: _Place, _: Offer) -> Coded | None:
    holder, (last, first) = place.parts[-2], ("ends_on", "starts_on")
    holder[first], holder[last] = holder[last], holder[first]
    return Coded("days_swapped")


def _swap_instants(place: _Place, _: Offer) -> Coded | None:
    window = place.parts[-2]
    window["opens_at"], window["closes_at"] = window["closes_at"], window["opens_at"]
    return Coded("instants_swapped")


def _drop_the_code(place: _Place, _: Offer) -> Coded | None:
    codes = place.document["codes"]
    code = codes.pop(int(place.steps[1]))
    if not codes:
        del place.document["codes"]
    return Coded("code_removed", code=code["code"])


def _drop_the_zone(place: _Place, _: Offer) -> Coded | None:
    name = place.parts[-1]["name"]
    place.remove()
    return Coded("zone_removed", zone=name)


def _drop_free_from(place: _Place, _: Offer) -> Coded | None:
    place.remove()
    return Coded("free_from_dropped")


def _drop_delivery(place: _Place, _: Offer) -> Coded | None:
    place.remove()
    return Coded("delivery_dropped")


def _tax_as_usual(place: _Place, offer: Offer) -> Coded | None:
    known = {category for rate in offer.tax.rates for category in rate.categories} if offer.tax else set()
    if STANDARD not in known:
        return None
    place.remove()
    return Coded("taxed_as_usual")


def _ask_all_at_once(place: _Place, _: Offer) -> Coded | None:
    if place.steps[:-1] != ["plan"]:
        return None
    del place.document["plan"]
    return Coded("asked_at_once")


_MENDS: dict[str, _Change] = {
    "was_not_higher": _drop_former_price,
    "level_nobody_takes": _put_levels_in_order,
    "more_for_less": _price_each_unit_by_itself,
    "break_out_of_reach": _allow_up_to_the_break,
    "pack_never_full": _allow_a_whole_pack,
    "minimum_leaves_nothing": _ask_for_enough,
    "once_means_nothing": _charge_it_like_the_rest,
    "no_choice": _drop_the_choice,
    "deposit_above_smallest_total": _ask_all_at_once,
    "code_never_counts": _swap_days,
    "code_does_nothing": _drop_the_code,
    "code_makes_free": _drop_the_code,
    "code_loses_free_delivery": _drop_the_code,
    "zone_out_of_reach": _drop_the_zone,
    "free_anyway": _drop_free_from,
    "delivery_of_nothing": _drop_delivery,
    "category_not_taxed": _tax_as_usual,
    "never_open": _swap_instants,
}
