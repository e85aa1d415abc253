"""A line names the version that it was bought by."""

from django.db import migrations


class Migration(migrations.Migration):
    dependencies = [("checkout", "0006_fewer_indexes"), ("links", "0019_versions")]

    operations = [
        migrations.SeparateDatabaseAndState(
            database_operations=[
                migrations.RunSQL("ALTER TABLE checkout_checkoutline RENAME COLUMN edition_id TO version_id")
            ],
            state_operations=[migrations.RenameField("checkoutline", "edition", "version")],
        ),
    ]
