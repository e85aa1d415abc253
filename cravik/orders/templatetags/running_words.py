"""What is paid over time, in words for templates."""

from __future__ import annotations

from django import template

from cravik.core.english import day_words
from cravik.core.text.money_text import format_money_clearly
from cravik.orders.running.payments import Payments
from cravik.payments.models import Agreement, Due

register = template.Library()


@register.filter
def standing(shown: Payments) -> str:
    """How it stands, in a sentence or two."""
    agreement, owed, following = shown.agreement, shown.owed, shown.following
    if agreement.state == Agreement.State.ENDED:
        over = f"It ended on {day_words(agreement.ended_at.date())}." if agreement.ended_at else "It has ended."
        return "All of it is paid." if agreement.why == Agreement.Why.COMPLETED else f"{over} Nothing more is taken."
    if agreement.state == Agreement.State.PAUSED:
        if agreement.why == Agreement.Why.DECLINED:
            return "It is paused, since a payment could not be taken. It goes on once that is paid."
        until = f" until {day_words(agreement.resumes_on)}" if agreement.resumes_on else ""
        return f"It is paused{until}. Nothing is taken meanwhile."
    if agreement.ends_on:
        return f"It is stopped. Nothing more is taken; what you paid for runs until {day_words(agreement.ends_on)}."
    if owed:
        sums = " and ".join(format_money_clearly(due.left) for due in owed[:3])
        return f"{sums} {'is' if len(owed) == 1 else 'are'} still to be paid."
    if following:
        taken = "is taken" if following.collect_on else "is to be paid"
        return f"The next {format_money_clearly(following.left)} {taken} on {day_words(following.on)}."
    return "Nothing is due." if agreement.plan is None else "All of it is paid."


@register.filter
def due_state(due: Due, shown: Payments) -> str:
    """What became of a due, or will."""
    match due.state:
        case Due.State.PAID:
            return "nothing to pay" if not due.amount_minor else "paid"
        case Due.State.SKIPPED | Due.State.WAIVED:
            return str(due.get_state_display()).lower()
        case Due.State.CANCELLED:
            return "not taken"
        case Due.State.FAILED if due.collect_on and due.collect_on > shown.today:
            return f"couldn't be taken; tried again on {day_words(due.collect_on)}"
        case Due.State.FAILED:
            return "couldn't be taken"
        case Due.State.PAID_IN_PART:
            return f"{format_money_clearly(due.left)} left to pay"
    if shown.agreement.state == Agreement.State.PAUSED:
        return "not taken while it is paused"
    if due.on <= shown.today:
        return "waits for you" if due.collect_on is None else "due"
    return "to come" if due.collect_on else "to be paid by you"
