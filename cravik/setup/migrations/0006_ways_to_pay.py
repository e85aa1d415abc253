"""The ways to pay that a business allows."""

from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('setup', '0005_roles'),
    ]

    operations = [
        migrations.AddField(
            model_name='business',
            name='ways',
            field=models.JSONField(default=dict),
        ),
    ]
