"""How later payments are collected and stopped, as buyers read it beside the button and in their letters.

>>> from cravik.core.link.running import RunningRules
>>> how_taken_words(True, RunningRules(stops="now"))
'Later payments are taken from this card on their days. You can stop at any time in your purchases.'
"""

from __future__ import annotations

from cravik.core.english import counted, listed
from cravik.core.link.running import RunningRules
from cravik.core.pricing.schedule import DepositPlan, RepeatPlan, SimplePlan

_STOPS = {
    "now": "You can stop at any time in your purchases.",
    "period": "You can stop at any time in your purchases; what is paid runs to the end of its period.",
    "ask": "To stop, write to the seller.",
}
KEEPS_CARD = (
    "Your card is kept for sums that you and the seller agree on later. Nothing is taken from it before you were told"
    " the sum and the reason, and could say no. Without a card this can't be ordered."
)


def agreed_words(plan: SimplePlan, rules: RunningRules) -> str:
    """How what follows today is taken, and how it is stopped."""
    if isinstance(plan, DepositPlan):
        days = counted(rules.tell_days, "day", "days")
        if rules.rest_is_charged:
            return f"The rest is taken from this card on its day; you are told {days} before."
        return f"Nothing is taken by itself: you get a page to pay the rest on, {days} before its day."
    return how_taken_words(isinstance(plan, RepeatPlan), rules)


def how_taken_words(repeats: bool, rules: RunningRules) -> str:
    """The same of what is taken again and again."""
    return " ".join(["Later payments are taken from this card on their days.", *([_STOPS[rules.stops]] * repeats)])


def tries_words(tries_after: tuple[int, ...]) -> str:
    """Such as ``2, 5 and 9 days later``."""
    return f"{listed([str(days) for days in tries_after], 'and')} days later" if tries_after else "not tried again"
