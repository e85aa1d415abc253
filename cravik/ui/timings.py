"""How long a shown price is promised, what is scarce is held, and an answer is waited for; and how a page says it.

Each is a setting of its own, so that one can change without the others:

``price_promised``      the price that a page showed is what is charged
``held_while_paying``   what is scarce is kept for somebody who pays by card
``called_off_after``    a payment that nobody has decided is called off, so that it never is charged
"""

from __future__ import annotations

from collections.abc import Callable
from datetime import datetime, timedelta

from django.conf import settings

from cravik.core.english import counted

#: Tells what time it is: where an answer is waited for, it is stamped when it came.
Clock = Callable[[], datetime]


def price_promised() -> timedelta:
    return timedelta(minutes=settings.CRAVIK_PRICE_PROMISED_MINUTES)


def held_while_paying() -> timedelta:
    return timedelta(minutes=settings.CRAVIK_HELD_WHILE_PAYING_MINUTES)


def called_off_after() -> timedelta:
    return timedelta(minutes=settings.CRAVIK_CALLED_OFF_MINUTES)


_SPANS = {span.__name__: span for span in (price_promised, held_while_paying, called_off_after)}


def lasting(name: str) -> str:
    """How long one of them lasts, by its name, in words."""
    return span_words(_SPANS[name]())


def span_words(span: timedelta) -> str:
    """Whole minutes in words.

    >>> span_words(timedelta(minutes=15)), span_words(timedelta(minutes=90)), span_words(timedelta(hours=1))
    ('15 minutes', '90 minutes', '1 hour')
    """
    minutes = int(span.total_seconds()) // 60
    return counted(minutes // 60, "hour", "hours") if minutes % 60 == 0 else counted(minutes, "minute", "minutes")
