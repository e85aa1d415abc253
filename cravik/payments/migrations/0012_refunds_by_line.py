"""What a refund is made of: shares of its payment, pieces, its reason, and what comes back with it."""

from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('payments', '0011_failed_attempts'),
    ]

    operations = [
        migrations.AddField(
            model_name='refund',
            name='fee_minor',
            field=models.PositiveBigIntegerField(default=0),
        ),
        migrations.AddField(
            model_name='refund',
            name='frees_places',
            field=models.BooleanField(default=False),
        ),
        migrations.AddField(
            model_name='refund',
            name='pieces',
            field=models.JSONField(default=dict),
        ),
        migrations.AddField(
            model_name='refund',
            name='restocks',
            field=models.BooleanField(default=False),
        ),
        migrations.AddField(
            model_name='refund',
            name='shares',
            field=models.JSONField(default=dict),
        ),
        migrations.AddField(
            model_name='refund',
            name='why',
            field=models.CharField(blank=True, default='', max_length=120),
        ),
    ]
