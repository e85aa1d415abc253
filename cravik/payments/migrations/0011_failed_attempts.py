"""Indexes by which payments that failed are found."""

from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('checkout', '0008_may_be_written_to'),
        ('payments', '0010_refund_note'),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.AddIndex(
            model_name='attempt',
            index=models.Index(condition=models.Q(('state', 'declined')), fields=['begun_at'], name='attempt_declined'),
        ),
        migrations.AddIndex(
            model_name='attempt',
            index=models.Index(condition=models.Q(('state', 'void')), fields=['begun_at'], name='attempt_void'),
        ),
    ]
