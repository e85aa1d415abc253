from django.db import migrations, models
from django.db.models import F
from django.db.models.functions import Coalesce


def note_last_signs(apps, schema_editor):
    """Of the visits that there are, the last sign of life is the last rung's."""
    visits = apps.get_model("journal", "Visit").objects
    visits.update(last_at=Coalesce(F("paid_at"), F("tried_at"), F("started_at"), F("opened_at")))


class Migration(migrations.Migration):
    dependencies = [("journal", "0003_campaigns")]

    operations = [
        migrations.AddField("visit", "referrer", models.CharField(blank=True, default="", max_length=100), preserve_default=False),
        migrations.AddField(
            "visit",
            "device",
            models.CharField(choices=[("phone", "Phone"), ("tablet", "Tablet"), ("desk", "Desk")], default="desk", max_length=6),
        ),
        migrations.AddField("visit", "last_at", models.DateTimeField(null=True)),
        migrations.RunPython(note_last_signs, migrations.RunPython.noop),
        migrations.AlterField("visit", "last_at", models.DateTimeField()),
        migrations.RemoveIndex("visit", "visit_again"),
        migrations.AddIndex("visit", models.Index(fields=["spot_id", "visitor", "last_at"], name="visit_again")),
        migrations.AlterField(
            "leftout",
            "reason",
            models.CharField(
                choices=[
                    ("crowd", "too many at once from one network"),
                    ("robot", "robots, by a kept list"),
                    ("preview", "previews that programs show of an address"),
                    ("ahead", "browsers fetching ahead"),
                    ("own", "your own"),
                    ("rehearse", "rehearsals"),
                ],
                max_length=8,
            ),
        ),
    ]
