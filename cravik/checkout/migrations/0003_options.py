"""Lines say their options in words, by which orders are found."""

from django.db import migrations, models


def write_options(apps, schema_editor):
    lines = apps.get_model("checkout", "CheckoutLine").objects
    for line in lines.exclude(quote_document=None).iterator(chunk_size=500):
        options = [name for each in line.quote_document.get("lines", []) for name in each.get("options", [])]
        if options:
            lines.filter(pk=line.pk).update(options=", ".join(options)[:1000])


class Migration(migrations.Migration):

    dependencies = [
        ("checkout", "0002_typed"),
    ]

    operations = [
        migrations.AddField("checkoutline", "options", models.CharField(blank=True, max_length=1000)),
        migrations.RunPython(write_options, migrations.RunPython.noop),
    ]
