"""A discount code, where one could work."""

from __future__ import annotations

from typing import Any, ClassVar

from django import forms

from cravik.checkout.parts.base import OrderPart


class CodePart(OrderPart):
    name = "code"
    template = "checkout/parts/code.html"
    step = "Discount code"
    decides = True
    pieces: ClassVar = {"code-says": "checkout/parts/_code_says.html"}
    refused_at: ClassVar = {"code": "code"}
    refusals: ClassVar = {
        "code_unknown": "This discount code isn't valid here. Check the spelling.",
        "code_not_started": "This discount code can't be used yet.",
        "code_ended": "This code has ended.",
        "code_below_minimum": "Valid on orders from {limit}.",
        "code_not_eligible": "This discount code doesn't apply to what you chose.",
    }

    def add_fields(self) -> None:
        if self.offered.version.codes and self.offered.moment.a_code_works:
            attributes = {"autocomplete": "off", "autocapitalize": "characters", "spellcheck": "false"}
            self.fields["code"] = forms.CharField(
                label="Discount code", required=False, max_length=120, widget=forms.TextInput(attrs=attributes)
            )

    def basket(self) -> dict[str, Any]:
        typed = self.text("code")
        return {"code": typed[:200]} if typed else {}
