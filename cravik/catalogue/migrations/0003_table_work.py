"""Tables are checked and written by the worker, and say how far they are."""

from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('catalogue', '0002_variant_option_group'),
    ]

    operations = [
        migrations.AddField(
            model_name='tableupload',
            name='good_rows_only',
            field=models.BooleanField(default=False),
        ),
        migrations.AddField(
            model_name='tableupload',
            name='state',
            field=models.CharField(choices=[('checking', 'Checking'), ('ready', 'Ready'), ('writing', 'Writing'), ('done', 'Done'), ('failed', 'Failed')], default='checking', max_length=8),
        ),
        migrations.AddField(
            model_name='tableupload',
            name='summary',
            field=models.JSONField(default=dict),
        ),
    ]
