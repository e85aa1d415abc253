"""Fields of a buyer's page that its address fills in and locks: the address carries a signature of their values.

The parameter ``lock`` names them and signs them, such as ``code,amount.fund:…``. It gives no authority beyond the
offer's own: whoever opens the link without it sees the page as it is for everybody.
"""

from __future__ import annotations

import hmac
import json
from collections.abc import Mapping
from typing import NamedTuple
from urllib.parse import urlencode

from django.utils.crypto import salted_hmac

from cravik.core.errors import AmountRefused
from cravik.core.pricing.money import Money
from cravik.core.pricing.offer import EXACTLY_ONE, Line, Offer
from cravik.core.pricing.price import LevelsPrice, OpenPrice
from cravik.core.text.refusal import Refusal
from cravik.links.refusals import LOCKING

PARAMETER = "lock"
MAX_LOCKED, MAX_VALUE_LENGTH = 24, 120
_SALT = "cravik.links.lock"


class Locked(NamedTuple):
    """What an address locks, by the names of fields; or, where its signature is not of these values, which fields it
    named (``altered``)."""

    fields: dict[str, str]
    altered: tuple[str, ...] = ()


class NotLockable(Refusal):
    """A field that cannot be locked, or not to that value."""

    words = LOCKING


def locked_query(link_id: int, offer: Offer, fields: Mapping[str, str]) -> str:
    """The query of an address that fills in these fields and locks them. Raises ``NotLockable``."""
    return urlencode({**fields, PARAMETER: lock_of(link_id, offer, fields)})


def lock_of(link_id: int, offer: Offer, fields: Mapping[str, str]) -> str:
    """What the address says beside these fields to lock them. Raises ``NotLockable``."""
    for name, value in fields.items():
        check_field(offer, name, value)
    if not fields or len(fields) > MAX_LOCKED:
        raise NotLockable.of("lock_too_many", most=MAX_LOCKED)
    return f"{','.join(sorted(fields))}:{_signature(link_id, fields)}"


def locked_in(link_id: int, query: Mapping[str, str]) -> Locked:
    """What the query of an address locks."""
    names, _, signature = query.get(PARAMETER, "")[:4000].rpartition(":")
    named = tuple(names.split(",")) if names else ()
    if not named:
        return Locked({}, (PARAMETER,) if PARAMETER in query else ())
    fields = {name: query.get(name, "") for name in named[:MAX_LOCKED]}
    if hmac.compare_digest(_signature(link_id, fields).encode(), signature.encode("utf-8", "replace")):
        return Locked(fields)
    return Locked({}, named)


def check_field(offer: Offer, name: str, value: str) -> None:
    """Raises ``NotLockable`` unless the offer has that field and takes that value."""
    part, _, key = name.partition(".")
    line = offer.line(key) if key else None
    if len(value) > MAX_VALUE_LENGTH:
        raise NotLockable.of("lock_value_too_long", name, field=name, most=MAX_VALUE_LENGTH)
    if name == "code":
        if offer.code(value) is None:
            raise NotLockable.of("lock_code_unknown", name, code=value)
    elif part in _CHECKS and line is not None:
        _CHECKS[part](line, value)
    else:
        raise NotLockable.of("lock_field_unknown", name, field=name)


def _check_quantity(line: Line, value: str) -> None:
    least, most = line.quantity.min, line.quantity.max
    if line.quantity == EXACTLY_ONE:
        raise NotLockable.of("lock_always_one", line=line.name)
    if not (value.isascii() and value.isdigit()) or int(value) < least or (most is not None and int(value) > most):
        raise NotLockable.of("lock_quantity", line=line.name, least=least, most=most)


def _check_level(line: Line, value: str) -> None:
    if not isinstance(line.price, LevelsPrice) or line.price.level(value) is None:
        raise NotLockable.of("level_unknown", line=line.name, level=value)


def _check_amount(line: Line, value: str) -> None:
    if not isinstance(line.price, OpenPrice):
        raise NotLockable.of("lock_amount_fixed", line=line.name)
    price = line.price
    try:
        amount = Money.parse(value, price.min.currency)
    except AmountRefused as refused:
        raise NotLockable(*refused.faults) from refused
    if amount < price.min or (price.max is not None and amount > price.max):
        raise NotLockable.of("lock_amount", line=line.name, least=price.min, most=price.max)


_CHECKS = {"quantity": _check_quantity, "level": _check_level, "amount": _check_amount}


def _signature(link_id: int, fields: Mapping[str, str]) -> str:
    signed = json.dumps([link_id, sorted(fields.items())])
    return salted_hmac(_SALT, signed, algorithm="sha256").hexdigest()[:40]
