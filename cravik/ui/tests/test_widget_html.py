"""Widgets are written as Django's own templates write them, whatever they hold."""

from __future__ import annotations

from typing import Any

from django import forms
from django.forms.renderers import TemplatesSetting
from django.test import SimpleTestCase
from django.utils.functional import lazystr
from django.utils.safestring import mark_safe

from cravik.ui.form_fields import Renderer
from cravik.ui.widget_html import WRITTEN

CHOICES = [
    ("", "Any"),
    (1234, 5678),
    ("<&\"'>", '<b>bold</b> & "more"\''),
    ("safe", mark_safe("<i>safe</i>")),
    ("Two", [("a", "A"), ("b", lazystr("<B>"))]),
    ("<group>", [(True, None), (3.5, 12345.5)]),
]
ATTRS = {
    "id": "id_<x>",
    "class": "form-control",
    "required": True,
    "disabled": False,
    "aria-describedby": lazystr("a & b"),
    "max": 12345,
    "data-safe": mark_safe("&lt;"),
    "data-empty": "",
    "data-none": None,
}
VALUES = (
    "",
    None,
    "plain",
    "<script>\"'&",
    " spaces ",
    "\nline\r\nline",
    12345,
    12345.5,
    mark_safe("<br>"),
    "é✂️",
    True,
    0,
)
SINGLE = (
    forms.TextInput,
    forms.NumberInput,
    forms.EmailInput,
    forms.URLInput,
    forms.PasswordInput,
    forms.HiddenInput,
    forms.CheckboxInput,
    forms.Textarea,
    forms.TelInput,
    forms.SearchInput,
    forms.ColorInput,
)
SEVERAL = (forms.Select, forms.SelectMultiple, forms.RadioSelect, forms.CheckboxSelectMultiple)


class WidgetHtmlTest(SimpleTestCase):
    def both(self, widget: forms.Widget, value: Any, attrs: dict[str, Any]) -> tuple[str, str]:
        return tuple(widget.render('name"<', value, attrs, renderer) for renderer in (Renderer(), TemplatesSetting()))  # type: ignore[return-value]

    def test_each_with_hostile_values_and_attributes(self) -> None:
        for kind in SINGLE:
            self.assertIn(kind.template_name, WRITTEN)
            for value in VALUES:
                for attrs in ({}, ATTRS):
                    with self.subTest(kind.__name__, value=value, attrs=len(attrs)):
                        self.assertEqual(*self.both(kind(), value, attrs))

    def test_choices_with_groups_chosen_or_not(self) -> None:
        for kind in SEVERAL:
            for value in ("", None, "b", ["a", "<&\"'>"], 1234):
                for attrs in ({}, ATTRS):
                    widget = kind(choices=CHOICES)
                    with self.subTest(kind.__name__, value=value, attrs=len(attrs)):
                        self.assertEqual(*self.both(widget, value, attrs))

    def test_each_option_by_itself(self) -> None:
        class Form(forms.Form):
            one = forms.ChoiceField(choices=CHOICES[:4], widget=forms.RadioSelect)

        ours = Form({"one": "safe"}, renderer=Renderer())
        theirs = Form({"one": "safe"}, renderer=TemplatesSetting())
        for our, their in zip(ours["one"], theirs["one"], strict=True):
            self.assertEqual(our.tag(), their.tag())
            self.assertEqual(our.tag(wrap_label=True), their.tag(wrap_label=True))
