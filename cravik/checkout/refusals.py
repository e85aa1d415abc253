"""What a buyer reads of a refusal; the words live in a template, by the refusal's code."""

from __future__ import annotations

from django.template.loader import render_to_string

from cravik.core.errors import CoreError, Fault
from cravik.core.pricing.money import Money
from cravik.core.text.money_text import format_money


def refusal_words(fault: Fault, currency: str, locale: str) -> str:
    """One or two plain sentences, with the bound that was broken."""
    context = {"code": fault.code, "limit": _limit(fault, currency, locale), "message": fault.message}
    return render_to_string("checkout/_refusal.html", context).strip()


def _limit(fault: Fault, currency: str, locale: str) -> str:
    if isinstance(fault.limit, int):
        return f"{fault.limit:,}"
    try:
        return format_money(Money.parse(fault.limit or "", currency), locale)
    except CoreError:
        return fault.limit or ""
