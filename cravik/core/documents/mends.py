"""What mends an offer that advice was given on, where one change does: the offer's document without the matter.

``_MENDS`` has one function for each code of the advice; a code without one has no mend, only a place to look at.
"""

from __future__ import annotations

import copy
import re
from collections.abc import Callable
from typing import Any, NamedTuple

from cravik.core.errors import Fault
from cravik.core.pricing.money import Money
from cravik.core.pricing.offer import Offer
from cravik.core.pricing.percent import WHOLE
from cravik.core.pricing.tax import STANDARD
from cravik.core.text.money_text import format_money

Document = dict[str, Any]
_STEP = re.compile(r"(\w+)(?:\[(\d+)\])?")


class Mend(NamedTuple):
    """What the mend does, as a button says it, and the offer's document after it."""

    words: str
    offer: Document


class _Place:
    """The part of a copy of the document to which a path leads, and those that it stands in.

    Raises ``LookupError`` where the document has no such part, as with terms that it follows.
    """

    def __init__(self, document: Document, at: str) -> None:
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
    def line(self) -> Document:
        """The line of the offer in which it stands."""
        line: Document = self.parts[2]
        return line


def _with_own_part(document: Document, at: str) -> Document:
    """A copy of the document in which the part that the path leads through may be changed; the rest is shared."""
    name, number = _STEP.findall(at)[0]
    part = document[name]
    if name == "lines":
        line = int(number)
        return document | {"lines": [*part[:line], copy.deepcopy(part[line]), *part[line + 1 :]]}
    return document | {name: copy.deepcopy(part)}


#: What a mend says of itself once it changed the place; nothing where it cannot.
_Change = Callable[[_Place, Offer], str]


def mend_for(advice: Fault, document: Document, offer: Offer) -> Mend | None:
    """The mend of the advice, or None. ``document`` may be a draft of the ``offer`` that follows some terms."""
    change = _MENDS.get(advice.code)
    if change is None:
        return None
    try:
        place = _Place(document, advice.at)
        words = change(place, offer)
    except LookupError:
        return None
    return Mend(words, place.document) if words else None


def _drop_former_price(place: _Place, _: Offer) -> str:
    place.remove()
    return "Drop the former price"


def _put_levels_in_order(place: _Place, offer: Offer) -> str:
    levels = place.line["price"]["levels"]
    levels.sort(key=lambda level: Money.parse(level["amount"], offer.currency).minor)
    return "Put the levels in the order of their prices"


def _price_each_unit_by_itself(place: _Place, _: Offer) -> str:
    price = place.line["price"]
    if price["method"] == "incremental" or any(_is_something(each.get("flat")) for each in price["breaks"]):
        return ""
    price["method"] = "incremental"
    return "Price each piece at the step that it falls in"


def _is_something(amount: str | None) -> bool:
    """Whether a written amount is more than nothing."""
    return bool(amount and amount.strip("0.,"))


def _allow_up_to_the_break(place: _Place, _: Offer) -> str:
    reached = place.line["price"]["breaks"][-1]["from"]
    place.line["quantity"]["max"] = reached
    return f"Let buyers take up to {reached:,}"


def _allow_a_whole_pack(place: _Place, _: Offer) -> str:
    size = place.line["price"]["size"]
    place.line["quantity"]["max"] = size
    return f"Let buyers take a whole pack of {size:,}"


def _ask_for_enough(place: _Place, offer: Offer) -> str:
    fee = offer.fee
    if fee is None or fee.percent.ten_thousandths >= WHOLE:
        return ""
    price = place.line["price"]
    enough = fee.covered(Money(1, offer.currency))
    least = Money(-(-enough.minor // (place.line.get("quantity") or {}).get("min", 1)), offer.currency)
    amounts = [price.get("max"), price.get("start"), *price.get("suggested", [])]
    if any(amount is not None and Money.parse(amount, offer.currency) < least for amount in amounts):
        return ""
    price["min"] = least.major
    return f"Ask for {format_money(least)} at least"


def _charge_it_like_the_rest(place: _Place, _: Offer) -> str:
    place.remove()
    return "Charge it like everything else"


def _drop_the_choice(place: _Place, _: Offer) -> str:
    if place.line.get("choices") and place.parts[-1]["options"][0].get("add"):
        return ""
    place.remove()
    return "Drop the choice"


def _swap_days(place: _Place, _: Offer) -> str:
    holder, (last, first) = place.parts[-2], ("ends_on", "starts_on")
    holder[first], holder[last] = holder[last], holder[first]
    return "Swap the two days"


def _swap_instants(place: _Place, _: Offer) -> str:
    window = place.parts[-2]
    window["opens_at"], window["closes_at"] = window["closes_at"], window["opens_at"]
    return "Swap the two"


def _drop_the_code(place: _Place, _: Offer) -> str:
    codes = place.document["codes"]
    code = codes.pop(place.steps[1])
    if not codes:
        del place.document["codes"]
    return f"Remove {code['code']}"


def _drop_the_zone(place: _Place, _: Offer) -> str:
    name = place.parts[-1]["name"]
    place.remove()
    return f"Remove “{name}”"


def _drop_free_from(place: _Place, _: Offer) -> str:
    place.remove()
    return "Drop the bound"


def _drop_delivery(place: _Place, _: Offer) -> str:
    place.remove()
    return "Drop the charges for delivery"


def _tax_as_usual(place: _Place, offer: Offer) -> str:
    known = {category for rate in offer.tax.rates for category in rate.categories} if offer.tax else set()
    if STANDARD not in known:
        return ""
    place.remove()
    return "Tax it as usual"


def _ask_all_at_once(place: _Place, _: Offer) -> str:
    if place.steps[:-1] != ["plan"]:
        return ""
    del place.document["plan"]
    return "Ask for all of it at once"


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
