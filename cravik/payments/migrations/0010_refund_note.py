"""What the seller writes to the buyer of a refund."""

from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('payments', '0009_fewer_indexes'),
    ]

    operations = [
        migrations.AddField(
            model_name='refund',
            name='note',
            field=models.CharField(blank=True, max_length=300),
        ),
    ]
