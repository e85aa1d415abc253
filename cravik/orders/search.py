"""Finding orders by what people have of them: a name, a number, a day or month, an amount, an option, the ending of a
card.

>>> december = date(2026, 12, 1)
>>> _days("delta 25 Nov 2026", december)
(Days(first=datetime.date(2026, 11, 25), last=datetime.date(2026, 11, 25), or_name=''), 'delta')
>>> _days("yesterday", december)[0] == Days(date(2026, 11, 30), date(2026, 11, 30))
True
>>> _days("april", december)[0], _days("25 November", date(2026, 3, 1))[0].first
(Days(first=datetime.date(2026, 4, 1), last=datetime.date(2026, 4, 30), or_name='april'), datetime.date(2025, 11, 25))
"""

from __future__ import annotations

import json
import re
from calendar import month_abbr, month_name, monthrange
from datetime import date, datetime, time, timedelta
from typing import Any, NamedTuple
from zoneinfo import ZoneInfo

from dateutil.parser import ParserError, parse
from django.db.models import Q, QuerySet
from django.utils import timezone

from cravik.core.errors import AmountRefused
from cravik.core.text.amount_text import parse_amount
from cravik.orders.models import Order, OrderQuerySet
from cravik.payments.models import Attempt
from cravik.payments.ways.card import ENDING
from cravik.people.models import Business

_MAX_WORDS = 8
_DAY = re.compile(
    r"(?<!\S)(?:\d{4}-\d{2}-\d{2}|\d{1,2}[./]\d{1,2}[./]\d{2,4}|\d{1,2}\.? [a-z]{3,9}\.?(?: \d{4})?)(?!\S)",
    re.ASCII | re.IGNORECASE,
)


_MONTHS = {name.lower(): number for number, name in enumerate(month_name) if name}
_MONTHS |= {name.lower(): number for number, name in enumerate(month_abbr) if name and name != "May"}
_MONTH = re.compile(rf"(?<!\S)({'|'.join(_MONTHS)})\.?(?: (\d{{4}}))?(?!\S)", re.IGNORECASE)
_LATELY = re.compile(r"(?<!\S)(today|yesterday)(?!\S)", re.IGNORECASE)


class Days(NamedTuple):
    """Both included; ``or_name`` is the word that was said, where somebody may be called by it."""

    first: date
    last: date
    or_name: str = ""


def matching(orders: OrderQuerySet, business: Business, search: str) -> OrderQuerySet:
    """Those of ``orders`` that match: each word stands in a name, an address, a title, an option or an answer, or is
    the order's number, reference or amount, or its card's ending. Days are those of the order, as the seller's clock
    had them."""
    today = timezone.now().astimezone(ZoneInfo(business.time_zone)).date()
    days, words = _days(search, today)
    if days:
        since = datetime.combine(days.first, time(), ZoneInfo(business.time_zone))
        until = datetime.combine(days.last + timedelta(days=1), time(), ZoneInfo(business.time_zone))
        made_then = Q(made_at__gte=since, made_at__lt=until)
        orders = orders.filter(made_then | _matches(days.or_name, business) if days.or_name else made_then)
    for word in words.split()[:_MAX_WORDS]:
        orders = orders.filter(_matches(word, business))
    return orders


def _matches(word: str, business: Business) -> Q:
    found = Q(buyer_name__icontains=word) | Q(buyer_email__icontains=word) | Q(title__icontains=word)
    found |= Q(checkout__reference=word.replace("-", "").upper())
    found |= Q(options__icontains=word)
    found |= answered(word)
    if word.isascii() and word.isdigit():
        found |= Q(number=int(word)) if len(word) < 10 else Q()
        found |= Q(pk__in=_of_card(word)) if len(word) == 4 else Q()
    try:
        amount = parse_amount(word, business.currency)
    except AmountRefused:
        return found
    return found | Q(checkout__total_minor=amount.minor)


def answered(words: str) -> Q:
    """Orders in whose answers those words stand."""
    return Q(checkout__answers__icontains=json.dumps(words)[1:-1])  # kept as JSON: letters beyond ASCII are escaped


def _of_card(ending: str) -> QuerySet[Order, Any]:
    paid_by = Attempt.objects.filter(state=Attempt.State.APPROVED, **{f"details__{ENDING}": ending})
    return Order.objects.filter(checkout__attempts__in=paid_by).values("pk")


def _days(search: str, today: date) -> tuple[Days | None, str]:
    """The days that are named, if some are, and the words beside them."""
    for pattern, named in ((_LATELY, _lately), (_DAY, _day), (_MONTH, _month)):
        for found in pattern.finditer(search):
            if days := named(found, today):
                return days, f"{search[: found.start()]} {search[found.end() :]}".strip()
    return None, search


def _lately(found: re.Match[str], today: date) -> Days:
    day = today if found[1].lower() == "today" else today - timedelta(days=1)
    return Days(day, day)


def _day(found: re.Match[str], today: date) -> Days | None:
    """Without a year it is the latest that has come."""
    iso = re.match(r"\d{4}-", found[0])
    try:
        day = parse(found[0], dayfirst=not iso, default=datetime.combine(today, time())).date()
        if day > today and not re.search(r"\d{4}|[./]\d{2}$", found[0]):
            day = day.replace(year=day.year - 1)
    except (ParserError, OverflowError, ValueError):
        return None
    return Days(day, day) if 1 < day.year < 9999 else None


def _month(found: re.Match[str], today: date) -> Days | None:
    """Without a year it is the latest that has begun."""
    month = _MONTHS[found[1].lower()]
    year = int(found[2]) if found[2] else today.year - (month > today.month)
    if not 1 <= year < 9999:
        return None
    last = date(year, month, monthrange(year, month)[1])
    return Days(date(year, month, 1), last, "" if found[2] else found[1])
