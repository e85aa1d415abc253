"""Holding what is understood of a said line to what a row of examples expects: see ``core/tests/data/said-lines*``.

Not compared: names of option groups, a quantity's default, whether a question has to be answered, what is sent.
"""

from __future__ import annotations

import json
import unicodedata
from collections.abc import Mapping
from datetime import datetime
from enum import StrEnum
from pathlib import Path
from typing import Any

from cravik.core.pricing.price import MAX_IN_BUNDLES

DATA = Path(__file__).parent.parent.parent / "core" / "tests" / "data"
_ONE = {"min": 1, "max": 1}


class Verdict(StrEnum):
    """What became of a row: ``ASKED`` makes no draft where one was expected, ``WRONG`` makes another in silence."""

    RIGHT = "right"
    ASKED = "asked"
    WRONG = "wrong in silence"


def rows_in(name: str) -> list[dict[str, Any]]:
    return [json.loads(line) for line in (DATA / name).read_text().splitlines()]


def verdict_of(row: Mapping[str, Any], answer: Mapping[str, Any]) -> Verdict:
    is_draft = not answer["missed"] and not answer["ask"]
    expected = [row["expect"], *row.get("also", [])]
    if not is_draft:
        return Verdict.RIGHT if None in expected else Verdict.ASKED
    got = _meaning(answer["document"] | {"elsewhere": answer["elsewhere"]})
    return Verdict.RIGHT if any(each and _agrees(_meaning(each), got) for each in expected) else Verdict.WRONG


def _agrees(expected: dict[str, Any], got: dict[str, Any]) -> bool:
    lines, others = expected["lines"], got["lines"]
    if len(lines) != len(others) or (expected["title"] and expected["title"] != got["title"]):
        return False
    names = {theirs["name"]: ours["name"] for ours, theirs in zip(others, lines, strict=True)}
    return all(_same_line(*pair) for pair in zip(lines, others, strict=True)) and all(
        _renamed(expected[part], names) == got[part] for part in expected if part not in ("lines", "title")
    )


def _renamed(value: Any, names: Mapping[str, str]) -> Any:
    """The same with a name that may be any as the other has it."""
    if isinstance(value, dict):
        return {names.get(key, key): _renamed(each, names) for key, each in value.items()}
    if isinstance(value, list):
        return [_renamed(each, names) for each in value]
    return names.get(value, value) if isinstance(value, str) and value else value


def _same_line(expected: dict[str, Any], got: dict[str, Any]) -> bool:
    if expected["name"] and expected["name"] != got["name"]:
        return False
    price, other = expected["price"], got["price"]
    if price.get("kind") == "open" and price.get("min") is None and other:
        other = other | {"min": None}
    return price == other and all(expected[part] == got[part] for part in ("quantity", "optional", "once", "choices"))


def _meaning(document: Mapping[str, Any]) -> dict[str, Any]:
    offer = document["offer"]
    names = {line.get("key", line.get("name", "")): _name(line.get("name", "")) for line in offer["lines"]}

    def of_line(key: str) -> str:
        return names.get(key, _name(key))

    limits = dict(document.get("limits") or {})
    limits.pop("counted_as", None)  # changes words alone
    window = offer.get("window") or {}
    for end in ("opens_at", "closes_at"):
        instant = limits.pop(end, None) or window.get(end)
        limits[end] = datetime.fromisoformat(instant).timestamp() if instant else None
    for counted in ("pieces", "pieces_per_buyer"):
        limits[counted] = {of_line(key): number for key, number in (limits.get(counted) or {}).items()}
    steps = [
        {**step, "line": of_line(step["line"]), "price": _price(step["price"])}
        | ({"from": datetime.fromisoformat(step["from"]).timestamp()} if step.get("from") else {})
        for step in document.get("steps", [])
    ]
    return {
        "title": _name(offer.get("title", "")),
        "currency": offer["currency"],
        "lines": [_line(line) for line in offer["lines"]],
        "plan": _plan(offer.get("plan") or {"kind": "once"}, of_line),
        "codes": sorted(json.dumps(_without(each), sort_keys=True) for each in _codes(offer, of_line)),
        "code_rules": document.get("code_rules") or {},
        "steps": steps,
        "limits": {name: value for name, value in limits.items() if value},
        "asks": {name: value for name, value in (document.get("asks") or {}).items() if value and value != "if sent"},
        "questions": [_question(each) for each in document.get("questions", [])],
        "button": (document.get("page") or {}).get("button", ""),
        "labels": document.get("labels", []),
        "elsewhere": sorted(each for each in document.get("elsewhere", []) if each in ("delivery", "tax")),
    }


def _line(line: Mapping[str, Any]) -> dict[str, Any]:
    quantity = _ONE | {name: value for name, value in line.get("quantity", {}).items() if name != "default"}
    if line.get("price", {}).get("kind") == "bundles" and quantity["max"] == MAX_IN_BUNDLES:
        quantity["max"] = None  # as many as there can be
    groups = [
        [(_name(option["name"]), float(option.get("add", 0))) for option in group["options"]]
        for group in line.get("choices", [])
    ]
    return {
        "name": _name(line.get("name", "")),
        "price": _price(line.get("price", {})),
        "quantity": quantity,
        "optional": line.get("optional", False),
        "once": line.get("once", False),
        "choices": groups,
    }


def _price(price: Mapping[str, Any]) -> dict[str, Any]:
    meant = _without({name: value for name, value in price.items() if name not in ("suggested", "start")})
    if price.get("kind") == "open":
        meant["suggested"] = sorted({*price.get("suggested", []), *([price["start"]] if price.get("start") else [])})
        meant["min"] = price.get("min")
    if levels := price.get("levels"):
        meant["levels"] = [(_name(each.get("name", "")), each["amount"]) for each in levels]
    if breaks := price.get("breaks"):
        meant["breaks"] = [(each["from"], each["unit"], float(each.get("flat", 0))) for each in breaks]
    return meant


def _plan(plan: Mapping[str, Any], of_line: Any) -> dict[str, Any]:
    meant = _without(plan)
    if first := plan.get("first"):
        meant["first"] = first | {"prices": {of_line(key): price for key, price in first["prices"].items()}}
    if plan.get("kind") == "choice":
        meant["of"] = [
            {
                "plan": _plan(each["plan"], of_line),
                "prices": {of_line(key): _price(price) for key, price in each.get("prices", {}).items()},
            }
            for each in plan["of"]
        ]
    return {name: value for name, value in meant.items() if value not in (0, False)}


def _codes(offer: Mapping[str, Any], of_line: Any) -> list[dict[str, Any]]:
    return [
        {**code, **({"line": of_line(code["line"])} if "line" in code else {})} for code in offer.get("codes") or []
    ]


def _question(question: Mapping[str, Any]) -> tuple[str, str, tuple[str, ...]]:
    kind = "text" if question["kind"] in ("short_text", "long_text") else question["kind"]
    return kind, _name(question["label"]), tuple(_name(each) for each in question.get("options", ()))


def _without(value: Mapping[str, Any]) -> dict[str, Any]:
    return {name: each for name, each in value.items() if each is not None and each != []}


def _name(text: str) -> str:
    """Without case, marks, emoji and a leading article."""
    plain = unicodedata.normalize("NFKD", text).casefold()
    words = "".join(sign if sign.isalnum() else " " for sign in plain if not unicodedata.combining(sign)).split()
    return " ".join(words[1:] if len(words) > 1 and words[0] in ("a", "an", "the") else words)
