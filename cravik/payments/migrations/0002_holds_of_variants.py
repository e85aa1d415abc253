"""Holds name variants, and are confirmed or released."""

from django.db import migrations, models

_NAMES = {"kept": "confirmed", "back": "released"}


def rename_states(apps, schema_editor):
    holds = apps.get_model("payments", "Hold").objects
    for former, present in _NAMES.items():
        holds.filter(state=former).update(state=present)


def rename_states_back(apps, schema_editor):
    holds = apps.get_model("payments", "Hold").objects
    for former, present in _NAMES.items():
        holds.filter(state=present).update(state=former)


class Migration(migrations.Migration):

    dependencies = [
        ("payments", "0001_initial"),
        ("catalogue", "0002_variant_option_group"),
    ]

    operations = [
        migrations.RenameField("hold", "combination", "variant"),
        migrations.AlterField(
            "hold",
            "state",
            models.CharField(
                choices=[("held", "Held"), ("confirmed", "the buyer's"), ("released", "Released")],
                default="held",
                max_length=9,
            ),
        ),
        migrations.RunPython(rename_states, rename_states_back),
    ]
