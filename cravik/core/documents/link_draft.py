"""A link document that is still being made: what it lacks, and what becomes of it in another currency.

A draft is a ``cravik.link/1`` document of which parts may be missing: a line without a price, or without a name.
"""

from __future__ import annotations

import copy
import re
from collections.abc import Collection, Mapping
from typing import Any, NamedTuple

from cravik.core.documents.link import read_link
from cravik.core.english import listed
from cravik.core.errors import Fault, InvalidDocument
from cravik.core.link.content import LinkContent

Document = dict[str, Any]


def complete(document: Document) -> LinkContent | None:
    """The link, if nothing of the draft is missing, else None."""
    try:
        return read_link(document)
    except InvalidDocument:
        return None


def gaps_in(document: Document) -> tuple[str, ...]:
    """A sentence for each thing that is missing before the draft can be shown or published."""
    return tuple(paths_of_gaps(document))


def paths_of_gaps(document: Document) -> dict[str, str]:
    """The same, each with the path in the document at which it is missing."""
    try:
        read_link(document)
    except InvalidDocument as refused:
        return {_gap_words(fault, document): fault.at for fault in refused.faults}
    return {}


#: What an unfinished price of each kind still needs.
_PRICE_GAPS = {
    "levels": "each of its levels, two or more, needs a name and an amount",
    "quantity": "each row of its price needs a number to start from, the first at 1, and an amount",
    "bundles": "each of its bundles needs a count and an amount, and a single piece a price",
    "packs": "say how many are in a pack, and what it costs",
}
_AT_LINE = re.compile(r"offer\.lines\[(\d+)\](?:\.(\w+))?")


def _gap_words(fault: Fault, document: Document) -> str:
    lines = document.get("offer", {}).get("lines", [])
    if (at := _AT_LINE.match(fault.at)) and int(at[1]) < len(lines):
        line = lines[int(at[1])]
        return _line_gap_words(fault, line, at[2] or "")
    if fault.at == "offer.title":
        return "Say what the payment is for."
    if fault.at.startswith("offer.plan"):
        return f"When it is paid: {fault.message}"
    return f"{fault.at}: {fault.message}" if fault.at else fault.message


def _line_gap_words(fault: Fault, line: Document, part: str) -> str:
    name = f"“{line.get('name') or 'What is sold'}”"
    if part == "name":
        return "Say what is sold."
    if part == "price" and "price" not in line:
        return f"{name} has no price yet."
    words = _PRICE_GAPS.get(line["price"].get("kind", "")) if part == "price" and not _is_told(fault) else None
    return f"{name}: {words}." if words else f"{name}: {fault.message}"


def _is_told(fault: Fault) -> bool:
    """Whether the fault says itself what is wrong, and not only that something is missing or too short."""
    return not fault.message.endswith(
        ("is missing.", "characters.", "character.", "items.", "validation, not 1.", "item.")
    )


class InCurrency(NamedTuple):
    """A draft in its new currency, and what was cleared of it because its amount was in the former one."""

    document: Document
    cleared: tuple[str, ...]


def in_currency(document: Document, currency: str, typed_anew: Collection[str] = ()) -> InCurrency:
    """The draft with ``currency``. An amount is never taken over as it stands: what has one is cleared, and named.

    The lines whose price is ``typed_anew`` in the same step (their keys) lose theirs without a word.
    """
    changed = copy.deepcopy(document)
    offer: Document = changed["offer"]
    if offer.get("currency") == currency:
        return InCurrency(changed, ())
    offer["currency"] = currency
    cleared: list[str] = []
    for line in offer.get("lines", []):
        if line.get("key") in typed_anew:
            line.pop("price", None)
        _clear_line(line, cleared)
    _clear_codes(changed, cleared)
    _clear_plan(offer, cleared)
    if "delivery" in offer:
        del offer["delivery"]
        cleared.append("the charges for delivery")
    if "fee" in offer:
        offer["fee"]["fixed"] = "0"
        cleared.append("the fixed part of the fee")
    if changed.pop("steps", None):
        cleared.append("the prices that change later")
    return InCurrency(changed, tuple(cleared))


def cleared_words(cleared: tuple[str, ...], former: str) -> str:
    """What was cleared, in a sentence; nothing where nothing was."""
    if not cleared:
        return ""
    are = "was" if len(cleared) == 1 else "were"
    return f"Cleared, because {'it' if len(cleared) == 1 else 'they'} {are} in {former}: {listed(cleared, 'and')}."


def _clear_line(line: Document, cleared: list[str]) -> None:
    name = line.get("name") or line.get("key", "")
    if line.pop("price", None) is not None:
        cleared.append(f"the price of “{name}”")
    options = [option for choice in line.get("choices", []) for option in choice.get("options", [])]
    adds = [option.pop("add", None) for option in options]
    if any(adds):
        cleared.append(f"what the options of “{name}” add")


def _clear_codes(document: Document, cleared: list[str]) -> None:
    offer = document["offer"]
    kept = []
    for code in offer.get("codes", []):
        if code.get("kind") in ("amount", "unit_price"):
            cleared.append(f"the code {code.get('code')}")
            document.get("code_rules", {}).pop(code.get("code"), None)
            continue
        if code.pop("minimum", None) is not None:
            cleared.append(f"the least order of the code {code.get('code')}")
        kept.append(code)
    _put(offer, "codes", kept)
    _put(document, "code_rules", document.get("code_rules", {}))


def _clear_plan(offer: Document, cleared: list[str]) -> None:
    plan = offer.get("plan", {})
    if plan.get("kind") == "deposit" and "amount" in plan:
        del offer["plan"]
        cleared.append("the deposit")
    for each in (plan, *(choice["plan"] for choice in plan.get("of", ()))):
        if each.pop("first", None):
            cleared.append("the prices of the first payments")
    if plan.get("kind") != "choice":
        return
    kept = []
    for each in plan["of"]:
        if each.pop("prices", None):
            cleared.append(f"the prices of the plan “{each['key']}”")
        if each["plan"].get("kind") == "deposit" and "amount" in each["plan"]:
            cleared.append(f"the plan “{each['key']}”")
        else:
            kept.append(each)
    plan["of"] = kept
    if not kept:
        del offer["plan"]


def _put(document: Document, key: str, value: Any) -> None:
    """What is empty stands nowhere."""
    if value:
        document[key] = value
    else:
        document.pop(key, None)


def without_empty(part: Mapping[str, Any]) -> Document:
    """The part without what is empty, which is what its absence means."""
    return {key: value for key, value in part.items() if value not in ("", None, {}, [], False, 0)}
