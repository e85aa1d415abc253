"""How numbers and days were written on the page that was paid on."""

from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('checkout', '0008_may_be_written_to'),
    ]

    operations = [
        migrations.AddField(
            model_name='checkout',
            name='number_locale',
            field=models.CharField(default='en', max_length=35),
        ),
    ]
