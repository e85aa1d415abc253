"""A handle: a seller's short personal address, and the sum that may stand behind it.

A handle is 3 to 30 letters, digits and single hyphens, and begins with a letter; case does not matter. Words that a
product needs for itself, or that would pass for somebody in charge, are reserved.

>>> handle_fault("windlestraw"), handle_fault("Pay").code
(None, 'handle_reserved')
>>> suggested_handles("Windlestraw Kites")
['windlestraw-kites', 'windlestraw', 'windlestrawkites', 'wkites', 'windlestraw-pay']
>>> sum_behind("25.50", "EUR", ("EUR", "USD"))
HandleSum(currency='EUR', amount=Money(minor=2550, currency='EUR'), fault='')
>>> sum_behind("usd-12", "EUR", ("EUR", "USD")).amount, sum_behind("USD", "EUR", ("EUR", "USD")).currency
(Money(minor=1200, currency='USD'), 'USD')
>>> sum_behind("CHF-5", "EUR", ("EUR",)).fault, sum_behind("25,5 0", "EUR", ("EUR",)).fault
('currency', 'amount')
"""

from __future__ import annotations

import re
from collections.abc import Collection
from typing import Literal, NamedTuple

from cravik.core.errors import AmountRefused, Fault
from cravik.core.pricing.currency import known_currency
from cravik.core.pricing.money import Money

MIN_HANDLE, MAX_HANDLE = 3, 30
_LONGEST_SUM = 60
_SHAPE = re.compile(r"[a-z][a-z0-9]*(?:-[a-z0-9]+)*", re.ASCII)
_SUM = re.compile(r"(?:([A-Za-z]{3})(?:-|$))?(.*)", re.ASCII | re.DOTALL)
RESERVED = frozenset(
    (
        "about abuse account accounts admin administrator api app apps bank billing blog business buy card cash "
        "checkout contact counter cravik dashboard demo donate download error faq for free handle healthy help home "
        "host info invoice legal link links login logout mail me money my news null official order orders owner "
        "paid pay paying payment payments phishing police postmaster press privacy refund refunds root safe sales "
        "search secure security seller service settings setup shop sign-in sign-up signin signup spot staff static "
        "status store support sysadmin system tax team terms test to undefined user users verify webmaster www"
    ).split()
)


class HandleSum(NamedTuple):
    """What an address says behind a handle: the currency that holds, the amount if one was said, and what of it could
    not be used: a ``currency`` that the seller does not take, or an ``amount`` that is none."""

    currency: str
    amount: Money | None
    fault: Literal["", "currency", "amount"] = ""


def handle_fault(name: str) -> Fault | None:
    """What is wrong with the name of a handle, or None where it can be one."""
    wanted = name.strip().lower()
    if not MIN_HANDLE <= len(wanted) <= MAX_HANDLE:
        return Fault("handle_length", length=len(wanted), least=MIN_HANDLE, most=MAX_HANDLE)
    if not _SHAPE.fullmatch(wanted):
        return Fault("handle_malformed")
    if wanted in RESERVED:
        return Fault("handle_reserved", name=wanted)
    return None


def suggested_handles(name: str) -> list[str]:
    """Handles that a business of that name might like, the best first. ``name`` is in plain Latin letters."""
    words = re.findall(r"[a-z0-9]+", name.lower(), re.ASCII)
    if not words:
        return []
    initials = "".join(word[0] for word in words[:-1])
    made = ["-".join(words), words[0], "".join(words), f"{initials}{words[-1]}", f"{words[0]}-pay"]
    fitting = (each[:MAX_HANDLE].strip("-") for each in made)
    return list(dict.fromkeys(each for each in fitting if not handle_fault(each)))


def sum_behind(text: str, usual: str, taken: Collection[str]) -> HandleSum:
    """What ``text`` says behind a handle whose seller takes those currencies, the ``usual`` one where none is named.

    An amount has a point and no grouping, as in a document.
    """
    if len(text) > _LONGEST_SUM:
        return HandleSum(usual, None, "amount")
    found = _SUM.fullmatch(text)
    assert found is not None
    named, amount = (found[1] or "").upper(), found[2]
    if named and (known_currency(named) is None or named not in taken):
        return HandleSum(usual, None, "currency")
    currency = named or usual
    if not amount:
        return HandleSum(currency, None, "" if named or not text else "amount")
    try:
        money = Money.parse(amount, currency)
    except AmountRefused:
        return HandleSum(currency, None, "amount")
    return HandleSum(currency, money) if money.minor > 0 else HandleSum(currency, None, "amount")
