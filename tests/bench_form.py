"""The bench's form as a browser sends it."""

from __future__ import annotations

from typing import Any

from django.http import HttpResponse
from django.test import TestCase

from cravik.links.bench.sheet import BenchSheet
from cravik.links.models import Link
from tests.factories import MembershipFactory
from tests.links import make_link


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


class BenchCase(TestCase):
    maxDiff = None

    def setUp(self) -> None:
        self.member = MembershipFactory()
        self.client.force_login(self.member.user)

    def link(self, *lines: dict[str, Any], **more: Any) -> Link:
        return make_link(*lines, business=self.member.business, published=False, **more)

    def save(self, link: Link, by_script: bool = True, **typed: str) -> HttpResponse:
        """The bench's form as it stands there, with what is typed; a list that is typed replaces its own."""
        sent = sheet_as_sent(BenchSheet(Link.objects.get(pk=link.pk)))
        typed = {name.replace("__", "."): value for name, value in typed.items()}
        lists = [name.removesuffix("TOTAL_FORMS") for name in typed if name.endswith("-TOTAL_FORMS")]
        sent = {name: value for name, value in sent.items() if not name.startswith(tuple(lists))} if lists else sent
        headers = {"accept": "application/json"} if by_script else {}
        return self.client.post(f"/links/{link.pk}/", sent | typed, headers=headers)
