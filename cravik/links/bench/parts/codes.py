"""Discount codes: what each takes off, of what, from when to when, and how often it can be used."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property
from typing import Any, ClassVar
from urllib.parse import urlencode

from django import forms
from django.utils import timezone

from cravik.core.documents.data import CodeData, CodeRuleData, put_or_drop
from cravik.core.pricing.discounts import normal_code
from cravik.core.text.code_words import code_effect
from cravik.links.bench.changes import Change, DraftInHand
from cravik.links.bench.parts.base import BenchPart, refuse_if_missing
from cravik.setup.hosts import address_of
from cravik.ui.fields import AmountField, CountField, LineField, clean_percent, form_rows

MAX_CODES = 50
KINDS = [
    ("percent", "per cent off"),
    ("amount", "off the sum"),
    ("unit_price", "is what each costs"),
    ("free_delivery", "delivery is free"),
]
_ALL, _SEVERAL = "", "*several"


class CodeForm(forms.Form):
    """A code. ``was`` is the code under which the draft knows it, if it does."""

    was = forms.CharField(required=False, max_length=120, widget=forms.HiddenInput)
    code = LineField(label="Code", longest=120, missing="", required=False)
    value = AmountField(label="How much")
    kind = forms.ChoiceField(label="What of", choices=KINDS, initial=KINDS[0][0])
    line = forms.ChoiceField(label="For", required=False)
    starts_on = forms.DateField(label="From", required=False, widget=forms.DateInput(attrs={"type": "date"}))
    ends_on = forms.DateField(label="Until", required=False, widget=forms.DateInput(attrs={"type": "date"}))
    uses = CountField(label="Uses in all", help_text="Leave blank for no limit.")
    uses_per_buyer = CountField(label="By one buyer")
    minimum = AmountField(label="From a sum of")

    def __init__(self, *args: Any, lines: list[tuple[str, str]], **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self.fields["line"].choices = lines  # type: ignore[attr-defined]  # a choice field


CodeRows = form_rows(CodeForm, MAX_CODES, 0)


@dataclass(frozen=True)
class ShownCode:
    """What the bench tells of a code: the address with it, how often it was used, and what it makes of the sum."""

    code: str
    address: str
    used: int
    effect: str


class CodesPart(BenchPart):
    name = "codes"
    heading = "Discount codes"
    mark = "codes-TOTAL_FORMS"
    has_amounts = True
    called = "Discount codes"
    adds = "Discount code"
    found_by = "coupon voucher promotion percent off"
    template = "links/bench/parts/codes.html"
    phrases = ("codes",)
    pieces: ClassVar = {"codes": "links/bench/parts/_codes_shown.html"}

    @property
    def value(self) -> str:
        return ", ".join(self.codes)

    @property
    def is_shown(self) -> bool:
        return True

    def add_fields(self) -> None:
        lines = [(_ALL, "everything"), *self.lines_to_choose]
        if any(len(code.get("lines") or ()) > 1 for code in self.codes.values()):
            lines.append((_SEVERAL, "several, as it is"))
        self.add_rows("codes", CodeRows, [self._initial(code) for code in self.codes.values()], lines=lines)

    @property
    def codes(self) -> dict[str, CodeData]:
        """Those of the draft, by their codes."""
        return {code["code"]: code for code in self.link.draft["offer"].get("codes", [])}

    @property
    def rules(self) -> dict[str, CodeRuleData]:
        return {normal_code(code): rule for code, rule in self.link.draft.get("code_rules", {}).items()}

    def _initial(self, code: CodeData) -> dict[str, Any]:
        lines, rule = code.get("lines") or [], self.rules.get(normal_code(code["code"]), {})
        value = code.get("percent") or code.get("amount") or code.get("unit") or ""
        return {
            "was": code["code"],
            "code": code["code"],
            "kind": code["kind"],
            "value": value,
            "line": code.get("line") or (lines[0] if len(lines) == 1 else _SEVERAL if lines else _ALL),
            "starts_on": code.get("starts_on") or "",
            "ends_on": code.get("ends_on") or "",
            "minimum": code.get("minimum") or "",
            "uses": rule.get("uses") or "",
            "uses_per_buyer": rule.get("uses_per_buyer") or "",
        }

    def check(self) -> None:
        seen: set[str] = set()
        for row in self.lists["codes"].kept:
            typed = row.cleaned_data
            refuse_if_missing(row, "code", "Write the code that buyers type.")
            code = normal_code(typed.get("code", ""))
            if code and code in seen:
                row.add_error("code", "This code is listed twice; capitals make no difference.")
            seen.add(code)
            starts, ends = typed.get("starts_on"), typed.get("ends_on")
            if starts and ends and ends < starts:
                row.add_error("ends_on", "The last day is not before the first.")
            self._value(row)
            self.amount(row, "minimum")
            if typed.get("kind") == "unit_price" and not self._line_of(row):
                row.add_error("line", "Choose what this is the price of.")

    def _value(self, row: forms.Form) -> CodeData:
        """What the code takes off, as documents have it; what is wrong is told at its field."""
        kind = row.cleaned_data.get("kind")
        if kind == "free_delivery":
            return {}
        if refuse_if_missing(row, "value", "Say how much."):
            return {}
        if kind == "percent":
            percent = clean_percent(row, "value")
            return {"percent": percent.text} if percent else {}
        amount = self.amount(row, "value")
        if amount is None:
            return {}
        return {"amount": amount.major} if kind == "amount" else {"line": self._line_of(row), "unit": amount.major}

    def _line_of(self, row: forms.Form) -> str:
        """The line that the code is for; empty where it is for all or several."""
        lines = self.link.draft["offer"]["lines"]
        chosen = str(row.cleaned_data.get("line") or "")
        if chosen in (_ALL, _SEVERAL):
            return str(lines[0]["key"]) if len(lines) == 1 else ""
        return chosen

    @property
    def piece(self) -> dict[str, Any]:
        codes: list[CodeData] = []
        rules = {}
        for row in self.lists["codes"].kept:
            typed = row.cleaned_data
            code: CodeData = {"code": typed["code"], "kind": typed["kind"], **self._value(row)}
            lines: list[str] | None = None
            if typed["line"] == _SEVERAL:
                lines = self.codes.get(typed["was"], {}).get("lines")
            elif typed["line"] and typed["kind"] != "unit_price":
                lines = [typed["line"]]
            minimum = self.amount(row, "minimum")
            days = {day: typed[day].isoformat() if typed[day] else None for day in ("starts_on", "ends_on")}
            codes.append(put_or_drop(code, lines=lines, minimum=minimum.major if minimum else None, **days))
            if rule := {name: typed[name] for name in ("uses", "uses_per_buyer") if typed[name]}:
                rules[typed["code"]] = rule
        return {"codes": codes, "code_rules": rules}

    @classmethod
    def put(cls, draft: DraftInHand, change: Change) -> None:
        offer = put_or_drop(draft.document["offer"], codes=change.piece["codes"])
        draft.document = put_or_drop(draft.document, offer=offer, code_rules=change.piece["code_rules"])

    @cached_property
    def shown(self) -> list[ShownCode]:
        """What is told of each code of the draft."""
        if not self.codes:
            return []
        used = {code.normal: code.paid for code in self.link.codes.all()}
        page = address_of(self.link.business_id, self.link.path)
        offer, today = None if self.link.effective is None else self.link.offer, timezone.localdate()
        return [
            ShownCode(
                code,
                f"{page}?{urlencode({'code': code})}",
                used.get(normal_code(code), 0),
                code_effect(offer, code, today, self.link.business.country) if offer else "",
            )
            for code in self.codes
        ]
