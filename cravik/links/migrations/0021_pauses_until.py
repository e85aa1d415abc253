"""A pause may be over by itself: when that is, stands on the link."""

from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('links', '0020_todos'),
        ('setup', '0008_running'),
    ]

    operations = [
        migrations.AddField(
            model_name='link',
            name='resumes_at',
            field=models.DateTimeField(null=True),
        ),
        migrations.AddIndex(
            model_name='link',
            index=models.Index(condition=models.Q(('resumes_at__isnull', False), ('state', 'paused')), fields=['resumes_at'], name='link_resumes'),
        ),
        migrations.AddConstraint(
            model_name='link',
            constraint=models.CheckConstraint(condition=models.Q(('resumes_at__isnull', True), ('state', 'paused'), _connector='OR'), name='link_resumes_after_a_pause'),
        ),
    ]
