"""What was typed into a page is kept, to show it once more."""

from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('checkout', '0001_initial'),
    ]

    operations = [
        migrations.AddField(
            model_name='checkout',
            name='typed',
            field=models.JSONField(default=dict),
        ),
    ]
