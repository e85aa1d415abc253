"""The right to withdraw from a purchase, as buyers read of it before they pay.

>>> print(*told_before_paying([("Delta kite", True, None)]))
You can withdraw from this purchase within 14 days of receiving it.
>>> print(*told_before_paying([("Seat", False, "dated")]))
It is for a set day, so you can't withdraw from this purchase.
>>> print(*told_before_paying([("Delta kite", True, None), ("Tail name", False, "made_to_order")]))
You can withdraw from this purchase within 14 days of receiving it. Not from Tail name: it is made to your wishes.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from cravik.core.link.withdrawal import DAYS, Exemption

#: Why there is no right; of a gift nothing is said.
WHY: Mapping[Exemption, str] = {
    "made_to_order": "it is made to your wishes",
    "perishable": "it spoils quickly",
    "dated": "it is for a set day",
    "at_once": "you asked for it at once",
}


def told_before_paying(things: Sequence[tuple[str, bool, Exemption | None]]) -> tuple[str, ...]:
    """A sentence for each thing to know of an offer's things: each has its name, whether it is sent, and why there is
    no right to withdraw from buying it, or None. Of gifts nothing is said, of what a buyer has at once a tick beside.
    """
    bought = [thing for thing in things if thing[2] != "gift"]
    with_right = [ships for _, ships, why in bought if why is None]
    reasons = [(name, WHY[why]) for name, _, why in bought if why and why != "at_once"]
    received = " of receiving it" if any(with_right) else ""
    told = [f"You can withdraw from this purchase within {DAYS} days{received}."] if with_right else []
    if len(bought) == 1:
        told += [f"{why.capitalize()}, so you can't withdraw from this purchase." for _, why in reasons]
    else:
        begins = "Not from" if with_right else "You can't withdraw from buying"
        told += [f"{begins} {name}: {why}." for name, why in reasons]
    return tuple(told)


def asked_for_at_once(names: Sequence[str]) -> str:
    """What a buyer agrees to who has those things at once.

    >>> print(asked_for_at_once(["the pattern"]))
    I want the pattern at once, and know that I can't withdraw from the purchase once I have it.
    """
    whom = " and ".join([", ".join(names[:-1]), names[-1]] if len(names) > 1 else names)
    have = "them" if len(names) > 1 else "it"
    return f"I want {whom} at once, and know that I can't withdraw from the purchase once I have {have}."
