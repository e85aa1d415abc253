"""What was put away is archived."""

from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [("catalogue", "0004_who_confirmed_a_table")]

    operations = [
        migrations.RemoveIndex("item", "item_by_name"),
        migrations.RenameField("item", "put_away", "archived"),
        migrations.RenameField("itemfile", "put_away", "archived"),
        migrations.AddIndex("item", models.Index(fields=["business", "archived", "name"], name="item_by_name")),
    ]
