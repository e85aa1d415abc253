"""An order names the version that it was bought by."""

from django.db import migrations, models


def rename_facet(apps, schema_editor):
    apps.get_model("orders", "MoneySum").objects.filter(facet="edition").update(facet="version")


class Migration(migrations.Migration):
    dependencies = [("orders", "0012_fewer_indexes"), ("checkout", "0007_versions"), ("links", "0019_versions")]

    operations = [
        migrations.SeparateDatabaseAndState(
            database_operations=[migrations.RunSQL("ALTER TABLE orders_order RENAME COLUMN edition_id TO version_id")],
            state_operations=[migrations.RenameField("order", "edition", "version")],
        ),
        migrations.RunPython(rename_facet, migrations.RunPython.noop),
        migrations.AlterField(
            "moneysum",
            "facet",
            models.CharField(
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
            ),
        ),
    ]
