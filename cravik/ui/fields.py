"""Form fields for what people type."""

from __future__ import annotations

import unicodedata

from django import forms


def clean_line(text: str) -> str:
    """One line without control and direction-override signs, its white space folded."""
    kept = (
        " " if sign.isspace() else sign
        for sign in text
        if sign.isspace() or unicodedata.category(sign) not in ("Cc", "Cs", "Cn")
    )
    overrides = dict.fromkeys(map(ord, "\u202a\u202b\u202c\u202d\u202e\u2066\u2067\u2068\u2069"))
    line = " ".join("".join(kept).translate(overrides).split())
    # Joiners and marks shape a word, and are nothing by themselves.
    return line if any(unicodedata.category(sign)[0] not in "CZ" for sign in line) else ""


class LineField(forms.CharField):
    """A name or title: one line, counted after it was cleaned, with the bound in the message."""

    def __init__(self, *, longest: int, missing: str, **kwargs: object) -> None:
        self.longest = longest
        super().__init__(**kwargs)  # type: ignore[arg-type]
        self.error_messages["required"] = missing

    def to_python(self, value: object) -> str:
        return clean_line(str(value or ""))

    def validate(self, value: str) -> None:
        super().validate(value)
        if len(value) > self.longest:
            raise forms.ValidationError(f"This has {len(value):,} characters; the most is {self.longest}.")


class TextAreaField(forms.CharField):
    """Several lines of plain text, with the bound in the message."""

    widget = forms.Textarea

    def __init__(self, *, longest: int, **kwargs: object) -> None:
        self.longest = longest
        super().__init__(**kwargs)  # type: ignore[arg-type]

    def to_python(self, value: object) -> str:
        lines = str(value or "").replace("\r\n", "\n").replace("\r", "\n").split("\n")
        return "\n".join(clean_line(line) for line in lines).strip()

    def validate(self, value: str) -> None:
        super().validate(value)
        if len(value) > self.longest:
            raise forms.ValidationError(f"This has {len(value):,} characters; the most is {self.longest:,}.")
