"""A link document that is still being made: what it lacks, and what becomes of it in another currency.

A draft is a ``cravik.link/1`` document of which parts may be missing: a line without a price, or without a name.
"""

from __future__ import annotations

import copy
import re
from collections.abc import Collection
from typing import NamedTuple

from cravik.core.coded import Coded
from cravik.core.documents.data import LineData, LinkData, OfferData
from cravik.core.documents.link import read_link
from cravik.core.errors import Fault, InvalidDocument
from cravik.core.link.content import LinkContent


def complete(document: LinkData) -> LinkContent | None:
    """The link, if nothing of the draft is missing, else None."""
    try:
        return read_link(document)
    except InvalidDocument:
        return None


def gaps_in(document: LinkData) -> tuple[Fault, ...]:
    """What is missing before the draft can be shown or published, each thing once, with the path at which it is.

    What a fault says only of a value that is not there yet is a gap of its own: ``title_missing``,
    ``line_name_missing``, ``price_missing``, or ``price_unfinished`` with the kind of price. ``of`` is the name of the
    line, or empty.
    """
    try:
        read_link(document)
    except InvalidDocument as refused:
        found = [_gap(fault, document) for fault in refused.faults]
        return tuple(
            gap for number, gap in enumerate(found) if not any(gap.is_same_as(each) for each in found[:number])
        )
    return ()


_AT_LINE = re.compile(r"offer\.lines\[(\d+)\](?:\.(\w+))?")
#: The kinds of price of which an unfinished one is said as a whole.
_SAID_AS_A_WHOLE = ("levels", "quantity", "bundles", "packs")
#: Faults that say only that something is missing or has not the length that it needs.
_UNFINISHED = ("missing", "string_too_short", "string_too_long", "too_short", "too_long")


def _gap(fault: Fault, document: LinkData) -> Fault:
    lines = document.get("offer", {}).get("lines", [])
    if (at := _AT_LINE.match(fault.at)) and int(at[1]) < len(lines):
        return _gap_of_line(fault, lines[int(at[1])], at[2] or "")
    return Fault("title_missing", fault.at) if fault.at == "offer.title" else fault


def _gap_of_line(fault: Fault, line: LineData, part: str) -> Fault:
    name = line.get("name") or ""
    if part == "name":
        return Fault("line_name_missing", fault.at)
    if part == "price" and "price" not in line:
        return Fault("price_missing", fault.at, of=name)
    kind = line["price"].get("kind", "") if part == "price" else ""
    if kind in _SAID_AS_A_WHOLE and fault.why in _UNFINISHED:
        return Fault("price_unfinished", fault.at, why=f"{kind}_unfinished", of=name)
    return Fault(fault.code, fault.at, why=fault.why, **{**fault.fields, "of": name})


class InCurrency(NamedTuple):
    """A draft in its new currency, and what was cleared of it because its amount was in the former one."""

    document: LinkData
    cleared: tuple[Coded, ...]


def in_currency(document: LinkData, currency: str, typed_anew: Collection[str] = ()) -> InCurrency:
    """The draft with ``currency``. An amount is never taken over as it stands: what has one is cleared, and named.

    The lines whose price is ``typed_anew`` in the same step (their keys) lose theirs without a word.
    """
    changed = copy.deepcopy(document)
    offer = changed["offer"]
    if offer.get("currency") == currency:
        return InCurrency(changed, ())
    offer["currency"] = currency
    cleared: list[Coded] = []
    for line in offer.get("lines", []):
        if line.get("key") in typed_anew:
            line.pop("price", None)
        _clear_line(line, cleared)
    _clear_codes(changed, cleared)
    _clear_plan(offer, cleared)
    if "delivery" in offer:
        del offer["delivery"]
        cleared.append(Coded("delivery"))
    if "fee" in offer:
        offer["fee"]["fixed"] = "0"
        cleared.append(Coded("fee_fixed"))
    if changed.pop("steps", None):
        cleared.append(Coded("steps"))
    return InCurrency(changed, tuple(cleared))


def _clear_line(line: LineData, cleared: list[Coded]) -> None:
    name = line.get("name") or line.get("key", "")
    if line.pop("price", None) is not None:
        cleared.append(Coded("line_price", line=name))
    options = [option for choice in line.get("choices", []) for option in choice.get("options", [])]
    adds = [option.pop("add", None) for option in options]
    if any(adds):
        cleared.append(Coded("option_adds", line=name))


def _clear_codes(document: LinkData, cleared: list[Coded]) -> None:
    offer = document["offer"]
    kept = []
    for code in offer.get("codes", []):
        if code.get("kind") in ("amount", "unit_price"):
            cleared.append(Coded("code", code=code.get("code")))
            document.get("code_rules", {}).pop(code.get("code", ""), None)
            continue
        if code.pop("minimum", None) is not None:
            cleared.append(Coded("code_minimum", code=code.get("code")))
        kept.append(code)
    if kept:
        offer["codes"] = kept
    else:
        offer.pop("codes", None)
    if not document.get("code_rules"):
        document.pop("code_rules", None)


def _clear_plan(offer: OfferData, cleared: list[Coded]) -> None:
    plan = offer.get("plan", {})
    if plan.get("kind") == "deposit" and "amount" in plan:
        del offer["plan"]
        cleared.append(Coded("deposit"))
    for simple in (plan, *(choice["plan"] for choice in plan.get("of", ()))):
        if simple.pop("first", None):
            cleared.append(Coded("first_prices"))
    if plan.get("kind") != "choice":
        return
    kept = []
    for each in plan["of"]:
        if each.pop("prices", None):
            cleared.append(Coded("plan_prices", plan=each["key"]))
        if each["plan"].get("kind") == "deposit" and "amount" in each["plan"]:
            cleared.append(Coded("plan", plan=each["key"]))
        else:
            kept.append(each)
    plan["of"] = kept
    if not kept:
        del offer["plan"]
