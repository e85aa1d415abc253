"""A design of QR codes is a look's, or a spot's."""

from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [("share", "0004_on_pages"), ("setup", "0007_looks_and_terms")]

    operations = [
        migrations.RemoveConstraint("keptdesign", "design_of_one_thing"),
        migrations.SeparateDatabaseAndState(
            database_operations=[migrations.RunSQL("ALTER TABLE share_keptdesign RENAME COLUMN kit_id TO look_id")],
            state_operations=[migrations.RenameField("keptdesign", "kit", "look")],
        ),
        migrations.AddConstraint(
            "keptdesign",
            models.CheckConstraint(
                condition=models.Q(
                    models.Q(("look__isnull", True), ("spot__isnull", False)),
                    models.Q(("look__isnull", False), ("spot__isnull", True)),
                    _connector="OR",
                ),
                name="design_of_one_thing",
            ),
        ),
    ]
