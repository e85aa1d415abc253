"""The HTML of Django's own widgets as their templates write it, in a tenth of the time: a bench has a hundred of them.

What each takes is the ``widget`` of the template's context. The templates are in ``django/forms/templates``; a test
holds each of these to its template. A widget with a template of its own is none of them.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from html import escape
from typing import Any

from django.utils.formats import localize
from django.utils.safestring import SafeData

_Widget = Mapping[str, Any]


def _text(value: object) -> str:
    """As ``{{ value|stringformat:'s' }}``, which leaves safe what is."""
    return str(value) if isinstance(value, SafeData) else escape(str(value))


def _shown(value: object) -> str:
    """As ``{{ value }}``."""
    text = str(localize(value))
    return text if isinstance(text, SafeData) else escape(text)


def _attributes(widget: _Widget) -> str:
    return "".join(
        f" {_text(name)}" if value is True else f' {_text(name)}="{_text(value)}"'
        for name, value in widget["attrs"].items()
        if value is not False
    )


def _input(widget: _Widget) -> str:
    value = widget["value"]
    at_first = "" if value is None else f' value="{_text(value)}"'
    return f'<input type="{_shown(widget["type"])}" name="{_shown(widget["name"])}"{at_first}{_attributes(widget)}>'


def _textarea(widget: _Widget) -> str:
    text = _shown(widget["value"]) if widget["value"] else ""
    return f'<textarea name="{_shown(widget["name"])}"{_attributes(widget)}>\n{text}</textarea>'


def _select(widget: _Widget) -> str:
    groups = []
    for name, options, _ in widget["optgroups"]:
        written = "".join(f"\n  {_option(option)}\n" for option in options)
        groups.append(f'\n  <optgroup label="{_shown(name)}">{written}\n  </optgroup>' if name else written)
    return f'<select name="{_shown(widget["name"])}"{_attributes(widget)}>{"".join(groups)}\n</select>'


def _option(option: _Widget) -> str:
    return f'<option value="{_text(option["value"])}"{_attributes(option)}>{_shown(option["label"])}</option>'


def _one_of_several(option: _Widget) -> str:
    if not option["wrap_label"]:
        return _input(option)
    of = f' for="{_shown(option["attrs"]["id"])}"' if option["attrs"].get("id") else ""
    return f"<label{of}>{_input(option)}\n {_shown(option['label'])}</label>"


_INPUTS = ("checkbox", "color", "email", "hidden", "input", "number", "password", "search", "tel", "text", "url")
#: By the name of the template.
WRITTEN: Mapping[str, Callable[[_Widget], str]] = {
    **{f"django/forms/widgets/{name}.html": _input for name in _INPUTS},
    "django/forms/widgets/textarea.html": _textarea,
    "django/forms/widgets/select.html": _select,
    "django/forms/widgets/radio_option.html": _one_of_several,
    "django/forms/widgets/checkbox_option.html": _one_of_several,
}
