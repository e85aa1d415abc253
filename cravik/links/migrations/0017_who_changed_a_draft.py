"""Who changed a draft."""


import django.db.models.deletion
from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('links', '0016_main_link'),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.AddField(
            model_name='draftstep',
            name='by',
            field=models.CharField(default='member', max_length=7),
            preserve_default=False,
        ),
        migrations.AddField(
            model_name='draftstep',
            name='by_name',
            field=models.CharField(blank=True, max_length=254),
        ),
        migrations.AddField(
            model_name='draftstep',
            name='user',
            field=models.ForeignKey(db_index=False, null=True, on_delete=django.db.models.deletion.SET_NULL, related_name='+', to=settings.AUTH_USER_MODEL),
        ),
    ]
