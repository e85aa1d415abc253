"""What goes with a letter."""

from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('mailroom', '0003_letters_of_orders'),
    ]

    operations = [
        migrations.AddField(
            model_name='letter',
            name='enclosed',
            field=models.JSONField(default=list),
        ),
    ]
