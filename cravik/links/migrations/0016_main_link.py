"""The spot that stands for the link was called “The link itself”: it is the main link, where no other spot is called so."""

from typing import Any

from django.db import migrations
from django.db.models import Exists, OuterRef


def call_main(apps: Any, schema_editor: Any) -> None:
    spots = apps.get_model("links", "Spot").objects
    taken = spots.filter(link=OuterRef("link"), name="Main link")
    spots.filter(~Exists(taken), is_first=True, name="The link itself").update(name="Main link")


class Migration(migrations.Migration):
    dependencies = [("links", "0015_bounds")]

    operations = [migrations.RunPython(call_main, migrations.RunPython.noop)]
