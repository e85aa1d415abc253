"""Cards that are kept."""

import django.db.models.deletion
from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('counter', '0003_never_in_words'),
    ]

    operations = [
        migrations.AddField(
            model_name='countercharge',
            name='keep',
            field=models.BooleanField(default=False),
        ),
        migrations.CreateModel(
            name='CounterKept',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('token', models.CharField(max_length=64, unique=True)),
                ('number', models.CharField(max_length=16)),
                ('expiry_month', models.PositiveSmallIntegerField()),
                ('expiry_year', models.PositiveSmallIntegerField()),
                ('charge', models.OneToOneField(on_delete=django.db.models.deletion.PROTECT, related_name='kept', to='counter.countercharge')),
            ],
        ),
    ]
