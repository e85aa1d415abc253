"""A sheet that is a single form."""

from __future__ import annotations

from django import forms

from cravik.ui.fields import Part


class OneForm:
    form: forms.Form

    @property
    def parts(self) -> list[Part]:
        return [self.form]
