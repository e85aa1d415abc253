"""The worked examples of the core as what a browser would send: a basket as the fields of the buyer's page."""

from __future__ import annotations

import json
from datetime import UTC, datetime, time
from pathlib import Path
from typing import Any

from tests.paying import POSTCODES

DATA = Path(__file__).parent.parent / "cravik" / "core" / "tests" / "data"


def worked_cases() -> list[dict[str, Any]]:
    files = ("worked-quotes.ndjson", "worked-quotes-2.ndjson", "worked-quotes-3.ndjson")
    return [json.loads(line) for name in files for line in (DATA / name).read_text().splitlines()]


def link_document(case: dict[str, Any]) -> dict[str, Any]:
    return {"format": "cravik.link/1", "name": case["id"], "offer": case["offer"]}


def instant_of(basket: dict[str, Any]) -> datetime:
    """The instant at which the basket is bought: its ``at``, or the start of its day in UTC."""
    if "at" in basket:
        return datetime.fromisoformat(basket["at"])
    return datetime.combine(datetime.fromisoformat(basket["on"]).date(), time(), UTC)


def fields_of(case: dict[str, Any]) -> dict[str, str]:
    """What the page's fields say of the basket."""
    basket, offer = case["basket"], case["offer"]
    lines = {line["key"]: line for line in offer["lines"]}
    fields: dict[str, str] = {}
    for asked in basket.get("lines", []):
        key = asked["key"]
        line = lines.get(key, {})
        if line.get("optional") or not line:
            fields[f"take.{key}"] = "yes"
        if "quantity" in asked:
            fields[f"quantity.{key}"] = str(asked["quantity"])
        if "level" in asked:
            fields[f"level.{key}"] = asked["level"]
        if "amount" in asked:
            fields[f"amount.{key}"] = asked["amount"]
        groups = [choice["name"] for choice in line.get("choices", [])]
        for name, option in asked.get("options", {}).items():
            number = groups.index(name) + 1 if name in groups else len(groups) + 1
            fields[f"option.{key}.{number}"] = option
    fields |= {name: basket[name] for name in ("code", "plan", "pay_now", "tax_number") if name in basket}
    if basket.get("cover_fee"):
        fields["cover_fee"] = "yes"
    if place := basket.get("destination"):
        fields["country"] = place["country"]
        fields["postcode"] = POSTCODES.get(place["country"], "")
        if place.get("region"):
            fields["region"] = place["region"]
    return fields


WHO = {
    "name": "Maren Saltmarsh",
    "email": "maren@dunes.example",
    "street": "2 Strand Lane",
    "town": "Marramport",
    "card_number": "9000000000000019",
    "expiry": "09/2150",
    "security_code": "123",
}
