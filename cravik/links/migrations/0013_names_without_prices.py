"""Names were made of a title and the price of that day, which many are no longer sold for: the title remains."""

import re
from typing import Any

from django.db import migrations

#: What was made to follow a title: “ · €24.00”, “ · what you want, from €5.00”, with a number where that was taken.
_PRICE = re.compile(r" · (?=[^·]*\d)[^·]*$")
_LONGEST = 120


def shorten_names(apps: Any, schema_editor: Any) -> None:
    links = apps.get_model("links", "Link").objects
    for link in links.filter(name__contains=" · ", removed_at=None).order_by("id"):
        title = ((link.draft.get("offer") or {}).get("title") or "")[:_LONGEST]
        if not title or not link.name.startswith(f"{title} · ") or not _PRICE.fullmatch(link.name[len(title) :]):
            continue  # a name that its seller chose
        taken = set(links.filter(business_id=link.business_id, removed_at=None).values_list("name", flat=True))
        name, number = title, 1
        while name in taken:
            number += 1
            name = f"{title[: _LONGEST - 8]} {number}"
        links.filter(pk=link.pk).update(name=name, draft=link.draft | {"name": name})


class Migration(migrations.Migration):
    dependencies = [("links", "0012_waiting_confirmed")]

    operations = [migrations.RunPython(shorten_names, migrations.RunPython.noop)]
