"""A visit names the version that was shown, and sums are of versions."""

from django.db import migrations, models


def rename_facet(apps, schema_editor):
    for name in ("VisitSum", "FieldSum"):
        apps.get_model("journal", name).objects.filter(facet="edition").update(facet="version")


_FACET = models.CharField(
        choices=[
            ("link", "Link"),
            ("spot", "Spot"),
            ("campaign", "Campaign"),
            ("referrer", "referring site"),
            ("device", "Device"),
            ("version", "version"),
            ("code", "discount code"),
            ("left_out", "what was left out"),
            ("field", "Field"),
        ],
        max_length=8,
)


class Migration(migrations.Migration):
    dependencies = [("journal", "0006_fields")]

    operations = [
        migrations.RenameField("visit", "edition_id", "version_id"),
        migrations.RunPython(rename_facet, migrations.RunPython.noop),
        migrations.AlterField("visitsum", "facet", _FACET),
        migrations.AlterField("fieldsum", "facet", _FACET),
    ]
