"""What is said of an act on the bench that cannot be done."""

from __future__ import annotations

from cravik.catalogue.refusals import VARIANTS
from cravik.core.text.faults.wording import Fields, Words


def _needs_one_price(fields: Fields) -> str:
    return f"“{fields['line'] or 'A thing'}” needs one price and no options of its own for that."


WORDS: Words = {
    **VARIANTS,
    "field_refused": "{trouble}",
    "act_unknown": "Unknown action.",
    "change_not_understood": "That change isn't understood as it stands. Nothing was changed.",
    "thing_missing": "Say what else it is.",
    "thing_name_too_long": "This has {length} characters; the most is {most}.",
    "too_many_things": "A link sells up to {most} things.",
    "last_thing": "A link sells at least one thing.",
    "thing_gone": "That is no longer part of the link.",
    "only_one_thing": "Add another item first: with only one there is nothing to choose.",
    "too_many_to_pick_from": "Buyers pick one of up to {most} things; these are {count}.",
    "things_of_catalogue": (
        "Things of the catalogue have stock and pictures of their own. Make them options of one item."
    ),
    "thing_needs_one_price": _needs_one_price,
    "things_differ": "They differ in whether they are sent, or in their tax, so they stay things of their own.",
    "things_referred_to": "Price changes, discount codes or ways to pay refer to these. Remove those first.",
    "things_limited": "Each of these has a limit of its own. Remove those limits first.",
    "in_catalogue_already": "It is in the catalogue already.",
    "thing_nameless": "Say what it is first.",
    "count_missing": "Say how many you have.",
    "option_name_too_long": "“{name}” is too long for an item: an option's name has up to {most} characters.",
    "advice_gone": "That advice no longer holds.",
    "no_step_left": "There is nothing left to undo here, or to do again.",
    "version_unknown": "The link has no such version.",
    "question_missing": "Write the question first.",
    "question_too_long": "A question has up to {most} characters.",
    "question_asked_already": "Another question asks the same.",
    "too_many_questions": "A link asks up to {most} questions.",
    "question_gone": "That question was deleted.",
}
