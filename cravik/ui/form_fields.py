"""How the fields of forms are shown, through Django's own field groups: ``{{ form.name.as_field_group }}``."""

from __future__ import annotations

from typing import Any

from django.forms import BoundField
from django.forms.renderers import TemplatesSetting
from django.http import HttpRequest

from cravik.ui.widget_html import WRITTEN


class ShownField(BoundField):
    """A field of a form with the classes of its kind, and the codes of what is wrong with it."""

    def build_widget_attrs(self, attrs: dict[str, Any], widget: Any = None) -> dict[str, Any]:
        built = super().build_widget_attrs(attrs, widget)
        if not self.is_choice:
            kind = "form-select" if self.widget_type in ("select", "lazyselect", "longselect") else "form-control"
            own = self.field.widget.attrs.get("class", "")
            built["class"] = " ".join(filter(None, (kind, own, "is-invalid" if self.errors else "")))
        return built

    @property
    def is_choice(self) -> bool:
        """Whether it is made of boxes or circles to tick, each with a label of its own."""
        return self.use_fieldset or self.widget_type == "checkbox"

    @property
    def codes(self) -> str:
        """The codes of its errors."""
        return " ".join(error.code for error in self.errors.as_data() if error.code)


class Renderer(TemplatesSetting):
    field_template_name = "ui/_field.html"
    bound_field_class = ShownField

    def render(self, template_name: str, context: dict[str, Any], request: HttpRequest | None = None) -> str:
        """Django's own widgets are written without their templates."""
        if write := WRITTEN.get(template_name):
            return write(context["widget"])
        return super().render(template_name, context, request)
