"""Reading and writing offers as ``cravik.offer/1`` documents.

Reading is strict and reports every fault at once with its path: a key that this version does
not know is refused, so that a typing mistake never changes a price in silence.

>>> offer = read_offer({"format": "cravik.offer/1", "title": "Kite repair", "currency": "EUR", "lines": [
...     {"key": "repair", "name": "Kite repair", "price": {"kind": "fixed", "amount": "24"}}]})
>>> write_offer(offer)["lines"][0]["price"]
{'kind': 'fixed', 'amount': '24.00'}
"""

from __future__ import annotations

import re
from collections.abc import Mapping
from typing import Any

from cravik.core.currency import minor_digits
from cravik.core.errors import CoreError, Fault, InvalidDocument
from cravik.core.fees import Fee
from cravik.core.money import Money
from cravik.core.offer import LONGEST_TITLE, FixedPrice, Line, Offer
from cravik.core.percent import Percent

FORMAT = "cravik.offer/1"
_KEY = re.compile(r"[a-z0-9]+(?:-[a-z0-9]+)*", re.ASCII)


def read_offer(document: object) -> Offer:
    """The offer that ``document`` (parsed JSON) says. Raises ``InvalidDocument`` with every fault."""
    reader = _Reader()
    offer = reader.offer(document)
    if reader.faults or offer is None:
        raise InvalidDocument(*reader.faults)
    return offer


def write_offer(offer: Offer) -> dict[str, Any]:
    """The document that reads back to ``offer``."""
    document: dict[str, Any] = {
        "format": FORMAT,
        "title": offer.title,
        "currency": offer.currency,
        "lines": [
            {"key": line.key, "name": line.name, "price": {"kind": "fixed", "amount": line.price.amount.major}}
            for line in offer.lines
        ],
    }
    if offer.fee:
        document["fee"] = {"percent": offer.fee.percent.text, "fixed": offer.fee.fixed.major}
    return document


class _Reader:
    def __init__(self) -> None:
        self.faults: list[Fault] = []

    def offer(self, document: object) -> Offer | None:
        keys = self.object(document, "", required=("format", "title", "currency", "lines"), optional=("fee",))
        if keys is None:
            return None
        if keys["format"] != FORMAT:
            self.fault("format_unknown", "format", f"The format has to be “{FORMAT}”.")
        title = self.text(keys["title"], "title")
        currency = self.currency(keys["currency"])
        if title is None or currency is None:
            return None
        lines = self.lines(keys["lines"], currency)
        fee = self.fee(keys["fee"], currency) if "fee" in keys else None
        return Offer(title, currency, tuple(lines), fee)

    def lines(self, value: object, currency: str) -> list[Line]:
        if not isinstance(value, list) or not 1 <= len(value) <= 20:
            self.fault("lines_count", "lines", "An offer has from 1 to 20 lines.")
            return []
        read = [self.line(line, f"lines[{number}]", currency) for number, line in enumerate(value)]
        lines = [line for line in read if line is not None]
        if len({line.key for line in lines}) < len(lines):
            self.fault("repeated_line", "lines", "Each line has a key of its own.")
        return lines

    def line(self, value: object, at: str, currency: str) -> Line | None:
        keys = self.object(value, at, required=("key", "name", "price"))
        if keys is None:
            return None
        if not isinstance(keys["key"], str) or not _KEY.fullmatch(keys["key"]):
            self.fault("key_malformed", f"{at}.key", "A key is lower-case letters, digits and hyphens.")
        name = self.text(keys["name"], f"{at}.name")
        price = self.price(keys["price"], f"{at}.price", currency)
        return Line(str(keys["key"]), name, price) if name is not None and price is not None else None

    def price(self, value: object, at: str, currency: str) -> FixedPrice | None:
        keys = self.object(value, at, required=("kind", "amount"))
        if keys is None:
            return None
        if keys["kind"] != "fixed":
            self.fault("price_kind_unknown", f"{at}.kind", "The price kind has to be “fixed”.")
        amount = self.amount(keys["amount"], f"{at}.amount", currency)
        return FixedPrice(amount) if amount is not None else None

    def fee(self, value: object, currency: str) -> Fee | None:
        keys = self.object(value, "fee", required=("percent", "fixed"))
        if keys is None:
            return None
        fixed = self.amount(keys["fixed"], "fee.fixed", currency)
        try:
            percent = Percent.from_text(str(keys["percent"]), "fee.percent")
        except CoreError as error:
            self.faults.extend(error.faults)
            return None
        return Fee(percent, fixed) if fixed is not None else None

    def amount(self, value: object, at: str, currency: str) -> Money | None:
        if not isinstance(value, str):
            self.fault("amount_malformed", at, 'An amount is a JSON string, such as "24.00".')
            return None
        try:
            money = Money.from_major(value, currency, at)
        except CoreError as error:
            self.faults.extend(error.faults)
            return None
        if money.minor < 0:
            self.fault("amount_negative", at, "An amount here is not below zero.")
        return money

    def currency(self, value: object) -> str | None:
        try:
            minor_digits(str(value))
        except CoreError as error:
            self.faults.extend(error.faults)
            return None
        return str(value)

    def text(self, value: object, at: str) -> str | None:
        if isinstance(value, str) and 1 <= len(value) <= LONGEST_TITLE:
            return value
        self.fault("text_length", at, f"This is a text of 1 to {LONGEST_TITLE} characters.")
        return None

    def object(
        self, value: object, at: str, required: tuple[str, ...], optional: tuple[str, ...] = ()
    ) -> Mapping[str, Any] | None:
        if not isinstance(value, dict):
            self.fault("not_an_object", at, "A JSON object is expected here.")
            return None
        prefix = f"{at}." if at else ""
        for key in value.keys() - {*required, *optional}:
            self.fault("unknown_key", f"{prefix}{key}", f"“{key}” is not known here.")
        missing = [key for key in required if key not in value]
        for key in missing:
            self.fault("missing_key", f"{prefix}{key}", f"“{key}” is missing.")
        return None if missing else value

    def fault(self, code: str, at: str, message: str) -> None:
        self.faults.append(Fault(code, at, message))
