"""Whether the page said that its seller may write about a payment that failed."""

from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('checkout', '0007_versions'),
    ]

    operations = [
        migrations.AddField(
            model_name='checkout',
            name='may_be_written_to',
            field=models.BooleanField(default=False),
        ),
    ]
