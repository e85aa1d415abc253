"""Defaults, and the processor's fee as the first of them."""

import django.db.models.deletion
from django.db import migrations, models

from cravik.core.money import Money
from cravik.core.percent import Percent


def keep_fees(apps, schema_editor):
    """A fee that was changed by hand becomes a decision; the usual one needs none."""
    Default = apps.get_model("setup", "Default")
    for business in apps.get_model("setup", "Business").objects.all():
        if (business.fee_percent, business.fee_fixed_minor) == (15_000, 25):
            continue
        Default.objects.create(
            business=business,
            subject="fee",
            document={
                "currency": business.currency,
                "fee": {
                    "percent": Percent(business.fee_percent).text,
                    "fixed": Money(business.fee_fixed_minor, business.currency).major,
                },
            },
            changed_at=business.made_at,
        )


class Migration(migrations.Migration):
    dependencies = [("setup", "0001_initial")]

    operations = [
        migrations.CreateModel(
            name="Default",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                (
                    "subject",
                    models.CharField(
                        choices=[("fee", "the processor's fee"), ("tax", "Tax"), ("delivery", "Delivery")],
                        max_length=16,
                    ),
                ),
                ("document", models.JSONField()),
                ("revision", models.PositiveIntegerField(default=1)),
                ("changed_at", models.DateTimeField()),
                (
                    "business",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.CASCADE, related_name="defaults", to="setup.business"
                    ),
                ),
            ],
            options={
                "constraints": [models.UniqueConstraint(fields=("business", "subject"), name="default_once")],
            },
        ),
        migrations.RunPython(keep_fees, migrations.RunPython.noop),
        migrations.RemoveConstraint(model_name="business", name="business_fee_percent_bound"),
        migrations.RemoveField(model_name="business", name="fee_percent"),
        migrations.RemoveField(model_name="business", name="fee_fixed_minor"),
    ]
