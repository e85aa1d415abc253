"""Words in braces that stand for something of the order."""

from __future__ import annotations

from collections.abc import Sequence

from django import forms

from cravik.setup.messages.filling import unknown_placeholders


def refuse_others(form: forms.Form, name: str, known: Sequence[str]) -> None:
    """Tell at the field what stands in braces there and means nothing, and what was probably meant."""
    for other, near in unknown_placeholders(form.cleaned_data.get(name, ""), known).items():
        hint = f"Do you mean {{{near}}}?" if near else f"These do: {', '.join(f'{{{each}}}' for each in known)}."
        form.add_error(name, f"{{{other[:30]}}} stands for nothing here. {hint}")
        return
