"""What is said of what cannot be done to a link, or not as it was asked."""

from __future__ import annotations

from cravik.core.text.faults.wording import Fields, Words, formatted
from cravik.core.text.pieces_words import pieces_words
from cravik.setup.refusals import NAMES


def _too_few_pieces(fields: Fields) -> str:
    taken, most = fields["taken"], fields["most"]
    are = "is" if taken == 1 else "are"
    return (
        f"“{fields['name']}”: {pieces_words(taken, fields['word'])} {are} sold or being paid for, so there can't be"
        f" {most:,} in all. Make it {taken:,} or more."
    )


def _quantity_not_lockable(fields: Fields) -> str:
    within = "{least} or more" if fields["most"] is None else "from {least} to {most}"
    return formatted(f"The quantity of “{{line}}” is a whole number, {within}.", fields)


def _amount_not_lockable(fields: Fields) -> str:
    most = "" if fields["most"] is None else ", and at most {most.major}"
    return formatted(f"The amount for “{{line}}” is at least {{least.major}}{most}.", fields)


PUBLISHING: Words = {
    "too_few_pieces": _too_few_pieces,
}
IMPORTING: Words = {
    "not_so_many_links": "There are {count} links in it; 1 to {most} can be imported.",
    "item_unknown": "The catalogue has no item with the code “{code}”.",
    "look_unknown": "There is no look called “{look}”.",
    "terms_unknown": "There are no terms called “{terms}”.",
}
LOCKING: Words = {
    "lock_too_many": "From 1 to {most} fields can be locked.",
    "lock_value_too_long": "{field}: the value has up to {most} characters.",
    "lock_code_unknown": "“{code}” is no code of this link.",
    "lock_field_unknown": "“{field}” is no field of this page that can be locked.",
    "lock_always_one": "There is always one of “{line}”.",
    "lock_quantity": _quantity_not_lockable,
    "lock_amount_fixed": "The amount for “{line}” is not the buyer's choice.",
    "lock_amount": _amount_not_lockable,
}
LABELS: Words = {
    "too_many_labels": "These are {count} labels; a link has up to {most}.",
    "label_too_long": "“{label}…” is too long: a label has up to {most} characters.",
}
SITES: Words = {"too_many_sites": "{most} sites can be named; take one away first."}
SPOTS: Words = {"too_many_spots": "A link has up to {most} spots."}
PRICES: Words = {"price_too_low": "An option takes off more than that. The least is {least.major}."}
#: Why a thing that is named in a said line is not sold from the catalogue.
NOT_FROM_CATALOGUE: Words = {
    "has_options_of_its_own": ("“{item}” is in your catalogue, too. With options of its own, this is not that one."),
    "price_too_low": (
        "“{item}” is in your catalogue, and is not sold from there: An option takes off more than that."
        " The least is {least.major}."
    ),
}
#: Why a link is left as it is by what is done to many.
LEFT: Words = {
    "not_in_that_state": "It is {state}.",
    "ended_because": "It is {state} because {ended_by}.",
    "changed_elsewhere": "It was changed at this moment by someone else.",
    "changed_since": "It has changed since you looked.",
    "not_published": "Its draft is changed. Not published: {trouble}",
    "ends_before_it_opens": "It would end before it opens.",
    "ends_then_already": "It already ends then.",
    "has_that_label": "It already has that label.",
    "label_too_many": "It would have {count} labels; the most is {most}.",
    "no_difference": "It makes no difference.",
    "undercut": "It would cost less than its options, codes or ways to pay take off.",
    "unfinished": "It is not finished.",
    "archived_already": "It is already archived.",
    "is_archived": "It is archived.",
    "has_that_spot": "It has a spot “{spot}” already.",
    **NAMES,
    **SPOTS,
    **PRICES,
}
