"""What is said of what a draft still lacks."""

from __future__ import annotations

from cravik.core.errors import Fault
from cravik.core.text.faults.wording import Words

_NAMELESS = "What is sold"

WORDS: Words = {
    "title_missing": "Say what the payment is for.",
    "line_name_missing": "Say what is sold.",
    "price_missing": "“{of}” has no price yet.",
    "levels_unfinished": "“{of}”: each of its levels, two or more, needs a name and an amount.",
    "quantity_unfinished": (
        "“{of}”: each row of its price needs a number to start from, the first at 1, and an amount."
    ),
    "bundles_unfinished": "“{of}”: each of its bundles needs a count and an amount, and a single piece a price.",
    "packs_unfinished": "“{of}”: say how many are in a pack, and what it costs.",
}


def where_words(gap: Fault) -> str:
    """Where in the draft a fault stands that is no gap of its own; what is said of it begins so."""
    if "of" in gap.fields:
        return f"“{gap.fields['of']}”: "
    if gap.at.startswith("offer.plan"):
        return "When it is paid: "
    return f"{gap.at}: " if gap.at else ""


def named(gap: Fault) -> Fault:
    """The gap with something to call the line by, where it has no name yet."""
    if gap.fields.get("of") != "":
        return gap
    return Fault(gap.code, gap.at, why=gap.why, **{**gap.fields, "of": _NAMELESS})
