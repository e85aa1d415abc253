"""Which order a letter is about."""

from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('mailroom', '0002_letters_that_fail'),
        ('setup', '0007_looks_and_terms'),
    ]

    operations = [
        migrations.AddField(
            model_name='letter',
            name='order_id',
            field=models.PositiveBigIntegerField(null=True),
        ),
        migrations.AddIndex(
            model_name='letter',
            index=models.Index(condition=models.Q(('order_id__isnull', False)), fields=['order_id'], name='letter_of_order'),
        ),
    ]
