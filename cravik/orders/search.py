"""Finding orders by what people have of them: a name, a number, a day, an amount, an option, the ending of a card.

>>> _days("delta 25 Nov 2026", date(2026, 12, 1))
(datetime.date(2026, 11, 25), 'delta')
>>> _days("2026-11-25", date(2026, 12, 1))[0], _days("25 November", date(2026, 3, 1))[0]
(datetime.date(2026, 11, 25), datetime.date(2025, 11, 25))
"""

from __future__ import annotations

import re
from datetime import date, datetime, time, timedelta
from typing import Any
from zoneinfo import ZoneInfo

from dateutil.parser import ParserError, parse
from django.db.models import Q, QuerySet
from django.utils import timezone

from cravik.core.errors import AmountRefused
from cravik.core.text.amount_text import parse_amount
from cravik.orders.models import Order, OrderQuerySet
from cravik.payments.models import Attempt
from cravik.setup.models import Business

_MAX_WORDS = 8
_DAY = re.compile(
    r"(?<!\S)(?:\d{4}-\d{2}-\d{2}|\d{1,2}[./]\d{1,2}[./]\d{2,4}|\d{1,2}\.? [a-z]{3,9}\.?(?: \d{4})?)(?!\S)",
    re.ASCII | re.IGNORECASE,
)


def found_orders(orders: OrderQuerySet, business: Business, search: str) -> OrderQuerySet:
    """Those of ``orders`` that match: each word stands in a name, an address, a title or an option, or is the order's
    number, reference or amount, or its card's ending. A day is that of the payment, as the seller's clock had it."""
    today = timezone.now().astimezone(ZoneInfo(business.time_zone)).date()
    day, words = _days(search, today)
    if day:
        since = datetime.combine(day, time(), ZoneInfo(business.time_zone))
        until = datetime.combine(day + timedelta(days=1), time(), ZoneInfo(business.time_zone))
        orders = orders.filter(paid_at__gte=since, paid_at__lt=until)
    for word in words.split()[:_MAX_WORDS]:
        orders = orders.filter(_matches(word, business))
    return orders


def _matches(word: str, business: Business) -> Q:
    found = Q(buyer_name__icontains=word) | Q(buyer_email__icontains=word) | Q(title__icontains=word)
    found |= Q(checkout__reference=word.replace("-", "").upper())
    # Asked apart, so that an order with several lines or tries is found once.
    found |= Q(pk__in=Order.objects.filter(checkout__lines__options__icontains=word).values("pk"))
    if word.isascii() and word.isdigit():
        found |= Q(number=int(word)) if len(word) < 10 else Q()
        found |= Q(pk__in=_of_card(word)) if len(word) == 4 else Q()
    try:
        amount = parse_amount(word, business.currency)
    except AmountRefused:
        return found
    return found | Q(checkout__total_minor=amount.minor)


def _of_card(ending: str) -> QuerySet[Order, Any]:
    approved = {"checkout__dues__attempts__state": Attempt.State.APPROVED}
    return Order.objects.filter(checkout__dues__attempts__card_ending=ending, **approved).values("pk")


def _days(search: str, today: date) -> tuple[date | None, str]:
    """The day that is named, if one is, and the words beside it. Without a year it is the latest that has passed."""
    for found in _DAY.finditer(search):
        iso = re.match(r"\d{4}-", found[0])
        try:
            day = parse(found[0], dayfirst=not iso, default=datetime.combine(today, time())).date()
        except (ParserError, OverflowError):
            continue
        if day > today and not re.search(r"\d{4}|[./]\d{2}$", found[0]):
            day = day.replace(year=day.year - 1)
        return day, f"{search[: found.start()]} {search[found.end() :]}".strip()
    return None, search
