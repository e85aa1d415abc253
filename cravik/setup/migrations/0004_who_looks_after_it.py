from django.db import migrations


def let_the_first_look_after_it(apps, schema_editor):
    """Who opened the first business looks after the installation."""
    users = apps.get_model("setup", "User").objects
    if not users.filter(is_superuser=True).exists() and (first := users.order_by("id").first()):
        first.is_superuser = True
        first.save(update_fields=["is_superuser"])


class Migration(migrations.Migration):
    dependencies = [
        ("setup", "0003_what_receipts_say"),
    ]

    operations = [
        migrations.RunPython(let_the_first_look_after_it, migrations.RunPython.noop),
    ]
