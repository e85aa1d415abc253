"""Words in braces that stand for something of the order."""

from __future__ import annotations

import difflib
import re
from collections.abc import Sequence

from django import forms

_IN_BRACES = re.compile(r"\{([^{}]*)\}")


def refuse_others(form: forms.Form, name: str, known: Sequence[str]) -> None:
    """Tell at the field what stands in braces there and means nothing, and what was probably meant."""
    others = [each for each in _IN_BRACES.findall(form.cleaned_data.get(name, "")) if each not in known]
    if others:
        near = difflib.get_close_matches(others[0].lower(), known, 1, 0.5)
        hint = f"Do you mean {{{near[0]}}}?" if near else f"These do: {', '.join(f'{{{each}}}' for each in known)}."
        form.add_error(name, f"{{{others[0][:30]}}} stands for nothing here. {hint}")
