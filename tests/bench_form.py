"""The bench's form as a browser sends it."""

from __future__ import annotations

from typing import Any

from cravik.links.bench.sheet import BenchSheet


def sheet_as_sent(sheet: BenchSheet) -> dict[str, Any]:
    """What would be sent of the sheet as it is shown."""
    lists = [rows for part in sheet.all_parts() for rows in part.lists.values()]
    forms = [sheet.form, *sheet.all_parts(), *(form for rows in lists for form in (rows.management_form, *rows.forms))]
    sent = {form.add_prefix(name): form[name].value() for form in forms for name in form.fields}
    return {
        name: ("on" if value is True else value)
        for name, value in sent.items()
        if value is not None and value is not False
    }


def rows_of(prefix: str, *rows: dict[str, str]) -> dict[str, str]:
    """A list of rows as a form sends it, none of which was there before."""
    sent = {f"{prefix}-TOTAL_FORMS": str(len(rows)), f"{prefix}-INITIAL_FORMS": "0"}
    return sent | {f"{prefix}-{place}-{name}": typed for place, row in enumerate(rows) for name, typed in row.items()}
