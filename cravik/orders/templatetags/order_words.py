"""For the pages of orders: what a buyer answered, and where they go on to."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from django import template

from cravik.core.link.onward import host_of
from cravik.orders.exports import answer_words
from cravik.orders.refund_words import refused_words
from cravik.payments.models import Attempt
from cravik.payments.ways import paid_with
from cravik.payments.ways.card import bank_address

register = template.Library()


@register.simple_tag
def answer(given: Mapping[str, Any]) -> str:
    """An answer as one would say it."""
    return answer_words(given["answer"])


@register.simple_tag(name="paid_with")
def paid_with_words(attempt: Attempt) -> tuple[str, str]:
    """The label of the way by which it was paid, and with what."""
    return paid_with(attempt)


@register.filter
def asked_by_bank_at(attempt: Attempt) -> str:
    """Where the card's bank is asking its customer; nothing where it is not."""
    return bank_address(attempt)


@register.filter
def refusal_of_refund(reason: str) -> str:
    """Why a processor refused to give money back."""
    return refused_words(reason)


@register.filter
def host(address: str) -> str:
    """The name of the host of an address."""
    return host_of(address)
