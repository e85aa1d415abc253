"""What was published is a version, and what was put away is archived. Tables are renamed where they stand."""

import django.db.models.deletion
from django.db import migrations, models

import cravik.links.models


class Migration(migrations.Migration):
    dependencies = [
        ("links", "0018_steps_as_data"),
        # Which name the table by what it was called.
        ("checkout", "0006_fewer_indexes"),
        ("orders", "0012_fewer_indexes"),
    ]

    operations = [
        migrations.RemoveConstraint("solditem", "sold_in_draft"),
        migrations.RemoveConstraint("solditem", "sold_in_edition"),
        migrations.RemoveConstraint("link", "link_published_has_edition"),
        migrations.RemoveConstraint("edition", "edition_number_unique"),
        migrations.RemoveConstraint("edition", "edition_rehearsed_once"),
        migrations.RemoveConstraint("edition", "edition_published_or_rehearsed"),
        migrations.SeparateDatabaseAndState(
            database_operations=[
                migrations.RunSQL(
                    [
                        "ALTER TABLE links_edition RENAME TO links_version",
                        "ALTER TABLE links_link RENAME COLUMN edition_id TO version_id",
                        "ALTER TABLE links_solditem RENAME COLUMN edition_id TO version_id",
                    ]
                )
            ],
            state_operations=[
                migrations.RenameModel("Edition", "Version"),
                migrations.RenameField("link", "edition", "version"),
                migrations.RenameField("solditem", "edition", "version"),
            ],
        ),
        migrations.RenameField("link", "put_away_at", "archived_at"),
        migrations.AlterField(
            "version",
            "id",
            models.BigIntegerField(
                default=cravik.links.models.new_version_id, editable=False, primary_key=True, serialize=False
            ),
        ),
        migrations.AlterField(
            "version",
            "link",
            models.ForeignKey(
                on_delete=django.db.models.deletion.CASCADE, related_name="versions", to="links.link"
            ),
        ),
        migrations.AddConstraint(
            "link",
            models.CheckConstraint(
                condition=models.Q(
                    models.Q(("state", "draft"), ("version__isnull", True)),
                    models.Q(models.Q(("state", "draft"), _negated=True), ("version__isnull", False)),
                    _connector="OR",
                ),
                name="link_published_has_version",
            ),
        ),
        migrations.AddConstraint(
            "version", models.UniqueConstraint(fields=("link", "number"), name="version_number_unique")
        ),
        migrations.AddConstraint(
            "version", models.UniqueConstraint(fields=("link", "revision"), name="version_rehearsed_once")
        ),
        migrations.AddConstraint(
            "version",
            models.CheckConstraint(
                condition=models.Q(
                    models.Q(("number__isnull", False), ("revision__isnull", True)),
                    models.Q(("number__isnull", True), ("revision__isnull", False)),
                    _connector="OR",
                ),
                name="version_published_or_rehearsed",
            ),
        ),
        migrations.AddConstraint(
            "solditem",
            models.UniqueConstraint(
                condition=models.Q(("version__isnull", True)), fields=("link", "line"), name="sold_in_draft"
            ),
        ),
        migrations.AddConstraint(
            "solditem", models.UniqueConstraint(fields=("version", "line"), name="sold_in_version")
        ),
    ]
