"""The rules of a quote as plainly as they can be written: dictionaries in, a dictionary out, and nothing checked.

What a batch costs beyond this loop is the price of reading strictly, refusing everything at once, and types. Plans are
paid once here; the measured cases are those without another plan and without a refusal.
"""

from __future__ import annotations

import json
from typing import Any

from iso4217 import Currency

Document = dict[str, Any]


def answer(line: bytes) -> bytes:
    """A line of a batch in, its quote out."""
    case = json.loads(line)
    return json.dumps({"id": case["id"], **quote(case["offer"], case["basket"])}).encode()


def quote(offer: Document, basket: Document) -> Document:
    digits = Currency(offer["currency"]).exponent or 0
    asked = {line["key"]: line for line in basket.get("lines", [])}
    lines = [
        bought(line, asked.get(line["key"], {}), digits)
        for line in offer["lines"]
        if not line.get("optional") or line["key"] in asked
    ]
    code = code_of(offer, basket)
    discounts = discounts_of(lines, code, digits)
    delivery = delivery_of(offer, basket, lines, discounts, code, digits)
    tax = Taxes(offer, basket)
    rows, total = [], 0
    for line, off in zip(lines, discounts, strict=True):
        taxed, paid = tax.on(line["amount"] - off, line["category"])
        total += paid
        unit = None if line["unit"] is None else text(line["unit"], digits)
        figures = {"amount": line["amount"], "discount": off, "tax": taxed, "total": paid}
        shown = {"key": line["key"], "quantity": line["quantity"], "unit": unit}
        rows.append(shown | {name: text(minor, digits) for name, minor in figures.items()})
    if delivery:
        total += tax.on(delivery, "delivery")[1]
    covered, fee = with_fee(offer.get("fee"), total, basket.get("cover_fee", False), digits)
    sums = {
        "subtotal": sum(line["amount"] for line in lines),
        "discount": sum(discounts),
        "delivery": delivery,
        "tax": tax.sum,
        "fee_cover": covered - total,
        "total": covered,
        "due_now": covered,
        "fee": fee,
        "net": covered - fee,
    }
    return {
        "format": "cravik.quote/1",
        "currency": offer["currency"],
        "lines": rows,
        **{name: text(minor, digits) for name, minor in sums.items()},
        "tax_lines": tax.rows(digits),
        "schedule": [],
    }


def minor(amount: str | None, digits: int) -> int:
    whole, _, decimals = (amount or "0").partition(".")
    sign = -1 if whole.startswith("-") else 1
    return sign * int(whole.lstrip("-") + decimals.ljust(digits, "0")[:digits])


def text(amount: int, digits: int) -> str:
    figures = str(abs(amount)).rjust(digits + 1, "0")
    shown = f"{figures[:-digits]}.{figures[-digits:]}" if digits else figures
    return f"-{shown}" if amount < 0 else shown


def share(amount: int, percent: str) -> int:
    return rounded(amount * minor(percent, 4), 10**6)


def rounded(numerator: int, denominator: int) -> int:
    return (2 * numerator + denominator) // (2 * denominator)


def spread(whole: int, weights: list[int]) -> list[int]:
    total = sum(weights)
    if not total:
        return [0] * len(weights)
    parts = [whole * weight // total for weight in weights]
    order = sorted(range(len(weights)), key=lambda place: -(whole * weights[place] % total))
    for place in order[: whole - sum(parts)]:
        parts[place] += 1
    return parts


def bought(line: Document, asked: Document, digits: int) -> Document:
    quantity = asked.get("quantity", line.get("quantity", {}).get("default", 1))
    picked = asked.get("options", {})
    options = [
        option
        for group in line.get("choices", [])
        for option in group["options"]
        if option["name"] == picked[group["name"]]
    ]
    adds = sum(minor(option.get("add"), digits) for option in options)
    amount, unit = priced(line["price"], quantity, adds, asked, digits)
    weight = line.get("weight_g", 0) + sum(option.get("weight_g", 0) for option in options)
    return {
        "key": line["key"],
        "quantity": quantity,
        "unit": unit,
        "amount": amount,
        "category": line.get("tax_category", "standard"),
        "ships": line.get("ships", False),
        "weight": quantity * weight,
    }


def priced(price: Document, quantity: int, adds: int, asked: Document, digits: int) -> tuple[int, int | None]:
    match price["kind"]:
        case "fixed":
            unit = minor(price["amount"], digits) + adds
        case "levels":
            unit = minor(next(each["amount"] for each in price["levels"] if each["key"] == asked["level"]), digits)
        case "open":
            unit = minor(asked.get("amount", price.get("start")), digits)
        case "packs":
            return -(-quantity // price["size"]) * minor(price["amount"], digits), None
        case _:
            return by_quantity(price, quantity, adds, digits)
    return quantity * unit, unit


def by_quantity(price: Document, quantity: int, adds: int, digits: int) -> tuple[int, int | None]:
    reached = [each for each in price["breaks"] if each["from"] <= quantity]
    if price["method"] == "all_units":
        unit, flat = minor(reached[-1]["unit"], digits) + adds, minor(reached[-1].get("flat"), digits)
        return quantity * unit + flat, None if flat else unit
    ends = [each["from"] for each in reached[1:]] + [quantity + 1]
    units = [minor(each["unit"], digits) + adds for each in reached]
    flats = [minor(each.get("flat"), digits) for each in reached]
    counts = [end - each["from"] for each, end in zip(reached, ends, strict=True)]
    amount = sum(count * unit for count, unit in zip(counts, units, strict=True)) + sum(flats)
    return amount, units[0] if len(set(units)) == 1 and not any(flats) else None


def code_of(offer: Document, basket: Document) -> Document | None:
    typed = basket.get("code", "").strip().casefold()
    return next((code for code in offer.get("codes", []) if code["code"].strip().casefold() == typed), None)


def discounts_of(lines: list[Document], code: Document | None, digits: int) -> list[int]:
    if code is None or code["kind"] == "free_delivery":
        return [0] * len(lines)
    counts = [code.get("lines") is None or line["key"] in code["lines"] for line in lines]
    if code["kind"] == "unit_price":
        to = minor(code["unit"], digits)
        return [
            line["quantity"] * max(0, line["unit"] - to) if counting and line["key"] == code["line"] else 0
            for line, counting in zip(lines, counts, strict=True)
        ]
    amounts = [line["amount"] if counting else 0 for line, counting in zip(lines, counts, strict=True)]
    base = sum(amounts)
    off = share(base, code["percent"]) if code["kind"] == "percent" else min(base, minor(code["amount"], digits))
    return spread(off, amounts)


def delivery_of(
    offer: Document, basket: Document, lines: list[Document], off: list[int], code: Document | None, digits: int
) -> int:
    sent = [(line, discount) for line, discount in zip(lines, off, strict=True) if line["ships"]]
    if not offer.get("delivery") or not sent:
        return 0
    country, zones = basket["destination"]["country"], offer["delivery"]["zones"]
    zone = next(zone for each in (country, "*") for zone in zones if each in zone["countries"])
    value, units = sum(line["amount"] - discount for line, discount in sent), sum(line["quantity"] for line, _ in sent)
    if code and code["kind"] == "free_delivery":
        return 0
    if zone.get("free_from") and value >= minor(zone["free_from"], digits):
        return 0
    charge = zone["charge"]
    match charge["kind"]:
        case "flat":
            return minor(charge["amount"], digits)
        case "per_item":
            return minor(charge["first"], digits) + (units - 1) * minor(charge["next"], digits)
        case "percent":
            return share(value, charge["percent"])
        case "by_value":
            reached = [band for band in charge["bands"] if minor(band["from"], digits) <= value]
        case _:
            reached = [band for band in charge["bands"] if band["from_g"] <= sum(line["weight"] for line, _ in sent)]
    return minor(reached[-1]["amount"], digits)


class Taxes:
    def __init__(self, offer: Document, basket: Document) -> None:
        self.rules = offer.get("tax") or {"seller_country": "", "rates": []}
        place = basket.get("destination") or {"country": self.rules["seller_country"]}
        self.rates = [
            rate
            for rate in self.rules["rates"]
            if rate["country"] == place["country"] and rate.get("region") in (None, place.get("region"))
        ]
        self.included = self.rules.get("prices_include_tax", False)
        self.abroad = bool(basket.get("tax_number")) and place["country"] != self.rules["seller_country"]
        self.sum = 0
        self.by_rate: dict[tuple[str, str], list[int]] = {}

    def on(self, amount: int, category: str) -> tuple[int, int]:
        rates = [rate for rate in self.rates if category in rate.get("categories", ["standard"])]
        if not rates and category == "delivery":
            rates = [rate for rate in self.rates if "standard" in rate.get("categories", ["standard"])]
        percents = [minor(rate["percent"], 4) for rate in rates]
        base = rounded(amount * 10**6, 10**6 + sum(percents)) if self.included else amount
        full = (
            spread(amount - base, percents) if self.included else [rounded(amount * each, 10**6) for each in percents]
        )
        parts = [
            0 if self.abroad and rate.get("reverse_charge") else part for rate, part in zip(rates, full, strict=True)
        ]
        for rate, part in zip(rates, parts, strict=True):
            row = self.by_rate.setdefault((rate["name"], rate["percent"]), [0, 0])
            row[0] += base
            row[1] += part
        tax = sum(parts)
        self.sum += tax
        return tax, amount - (sum(full) - tax) if self.included else amount + tax

    def rows(self, digits: int) -> list[Document]:
        keys = dict.fromkeys((rate["name"], rate["percent"]) for rate in self.rates)
        return [
            {
                "name": name,
                "percent": percent,
                "base": text(self.by_rate[name, percent][0], digits),
                "amount": text(self.by_rate[name, percent][1], digits),
            }
            for name, percent in keys
            if (name, percent) in self.by_rate
        ]


def with_fee(fee: Document | None, total: int, covers: bool, digits: int) -> tuple[int, int]:
    if not fee:
        return total, 0
    percent, fixed = minor(fee["percent"], 4), minor(fee["fixed"], digits)
    if covers and total:
        total = 10**6 * (2 * (total + fixed) - 1) // (2 * (10**6 - percent)) + 1
    return total, rounded(total * percent, 10**6) + fixed if total else 0
