"""Looks and terms under their own names. Tables are renamed where they stand, so nothing is copied."""

from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [
        ("setup", "0006_ways_to_pay"),
        # Which name the tables by what they were called.
        ("checkout", "0006_fewer_indexes"),
        ("share", "0004_on_pages"),
    ]

    operations = [
        migrations.RemoveConstraint("kit", "kit_name_unique"),
        migrations.RemoveConstraint("kit", "kit_one_default"),
        migrations.RemoveConstraint("conditions", "conditions_name"),
        migrations.RemoveConstraint("conditions", "conditions_one_default"),
        migrations.RemoveConstraint("conditionsversion", "conditions_version_number"),
        migrations.SeparateDatabaseAndState(
            database_operations=[
                migrations.RunSQL(
                    [
                        "ALTER TABLE setup_kit RENAME TO setup_look",
                        "ALTER TABLE setup_conditions RENAME TO setup_terms",
                        "ALTER TABLE setup_conditionsversion RENAME TO setup_termsversion",
                        "ALTER TABLE setup_termsversion RENAME COLUMN conditions_id TO terms_id",
                    ]
                )
            ],
            state_operations=[
                migrations.RenameModel("Kit", "Look"),
                migrations.RenameModel("Conditions", "Terms"),
                migrations.RenameModel("ConditionsVersion", "TermsVersion"),
                migrations.RenameField("termsversion", "conditions", "terms"),
            ],
        ),
        migrations.RenameField("terms", "put_away", "archived"),
        migrations.AlterField(
            "default",
            "subject",
            models.CharField(
                choices=[
                    ("fee", "the processor's fee"),
                    ("tax", "Tax"),
                    ("delivery", "Delivery"),
                    ("look", "Look"),
                    ("conditions", "Terms"),
                    ("contact", "Contact"),
                ],
                max_length=16,
            ),
        ),
        migrations.AlterField(
            "look",
            "business",
            models.ForeignKey(on_delete=models.CASCADE, related_name="looks", to="setup.business"),
        ),
        migrations.AlterField(
            "terms",
            "business",
            models.ForeignKey(on_delete=models.CASCADE, related_name="terms", to="setup.business"),
        ),
        migrations.AddConstraint(
            "look", models.UniqueConstraint(fields=("business", "name"), name="look_name_unique")
        ),
        migrations.AddConstraint(
            "look",
            models.UniqueConstraint(
                condition=models.Q(("is_default", True)), fields=("business",), name="look_one_default"
            ),
        ),
        migrations.AddConstraint(
            "terms",
            models.UniqueConstraint(
                condition=models.Q(("archived", False)), fields=("business", "name"), name="terms_name"
            ),
        ),
        migrations.AddConstraint(
            "terms",
            models.UniqueConstraint(
                condition=models.Q(("is_default", True)), fields=("business",), name="terms_one_default"
            ),
        ),
        migrations.AddConstraint(
            "termsversion", models.UniqueConstraint(fields=("terms", "number"), name="terms_version_number")
        ),
    ]
