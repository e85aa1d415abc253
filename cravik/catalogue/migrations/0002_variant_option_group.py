"""Combination becomes Variant, Choice becomes OptionGroup: the field's own words."""

import django.db.models.deletion
from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ("catalogue", "0001_initial"),
        # Whose table refers to this one by its former name.
        ("payments", "0001_initial"),
    ]

    operations = [
        migrations.RemoveConstraint("combination", "combination_once"),
        migrations.RemoveConstraint("combination", "combination_code_unique"),
        migrations.RenameModel("Combination", "Variant"),
        migrations.AlterField(
            "variant",
            "item",
            models.ForeignKey(
                on_delete=django.db.models.deletion.CASCADE, related_name="variants", to="catalogue.item"
            ),
        ),
        migrations.AddConstraint(
            "variant", models.UniqueConstraint(fields=("item", "key"), name="variant_once")
        ),
        migrations.AddConstraint(
            "variant",
            models.UniqueConstraint(
                condition=models.Q(("code", ""), _negated=True),
                fields=("business", "code"),
                name="variant_code_unique",
            ),
        ),
        migrations.RemoveConstraint("option", "option_name_unique"),
        migrations.RemoveConstraint("choice", "choice_name_unique"),
        migrations.RenameModel("Choice", "OptionGroup"),
        migrations.AlterField(
            "optiongroup",
            "item",
            models.ForeignKey(
                on_delete=django.db.models.deletion.CASCADE, related_name="option_groups", to="catalogue.item"
            ),
        ),
        migrations.RenameField("option", "choice", "group"),
        migrations.AddConstraint(
            "optiongroup", models.UniqueConstraint(fields=("item", "name"), name="option_group_name_unique")
        ),
        migrations.AddConstraint(
            "option", models.UniqueConstraint(fields=("group", "name"), name="option_name_unique")
        ),
    ]
