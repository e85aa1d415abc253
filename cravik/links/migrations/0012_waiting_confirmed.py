"""Who waits says so from a letter. Those of before were taken at their word, and still are."""

import secrets
from typing import Any

from django.db import migrations, models
from django.db.models import F


def confirm_those_of_before(apps: Any, schema_editor: Any) -> None:
    rows = apps.get_model("links", "Waiting").objects
    for pk in rows.values_list("pk", flat=True):
        rows.filter(pk=pk).update(key=secrets.token_urlsafe(18), confirmed_at=F("made_at"))


class Migration(migrations.Migration):
    dependencies = [("links", "0011_sites")]

    operations = [
        migrations.AddField("waiting", "confirmed_at", models.DateTimeField(null=True)),
        migrations.AddField("waiting", "key", models.CharField(max_length=32, null=True)),
        migrations.RunPython(confirm_those_of_before, migrations.RunPython.noop),
        migrations.AlterField("waiting", "key", models.CharField(max_length=32, unique=True)),
    ]
