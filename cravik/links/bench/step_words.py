"""What was done to a draft, as undoing names it."""

from __future__ import annotations

from collections.abc import Iterable

from cravik.core.coded import Coded
from cravik.core.text.faults.advice import MENDS
from cravik.core.text.faults.wording import Fields, Words, worded
from cravik.links.bench.parts import ALL_PARTS

#: So many of the things that one step did are named.
_MOST_NAMED = 2


def _part_changed(fields: Fields) -> str:
    part = ALL_PARTS.get(fields["part"])
    if part is None:  # of a version before
        return "A change"
    heading = part.heading or (ALL_PARTS[part.lies_with].heading if part.lies_with else part.name.capitalize())
    return f"{heading} of “{fields['of']}”" if fields.get("of") else heading


def _line_removed(fields: Fields) -> str:
    return f"Removing “{fields['line'] or 'a thing'}”"


WORDS: Words = {
    **MENDS,
    "part_changed": _part_changed,
    "line_added": "Adding “{line}”",
    "line_removed": _line_removed,
    "lines_moved": "The order of the things",
    "item_made": "Keeping “{item}” in the catalogue",
    "item_price_taken": "Taking the item's price",
    "joining_fee_added": "Adding a joining fee",
    "version_restored": "Going back to version {version}",
    "any_sold": "Letting buyers take any of them",
    "all_sold": "Selling all of them together",
    "one_sold": "Letting buyers pick one of them",
    "question_added": "Asking “{question}”",
    "change_said": "“{words}”",
    "question_dropped": "Dropping a question",
    # What steps were called before they were kept as data.
    "as_called": "{words}",
}


def step_words(done: Iterable[Coded]) -> str:
    """What the step did, in a few words."""
    words = dict.fromkeys(worded(each, WORDS) for each in done)
    return " and ".join(list(words)[:_MOST_NAMED])
