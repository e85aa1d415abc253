"""Visits that are left out are counted, by reason."""

from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('journal', '0001_initial'),
    ]

    operations = [
        migrations.CreateModel(
            name='LeftOut',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('business_id', models.PositiveBigIntegerField()),
                ('link_id', models.PositiveBigIntegerField()),
                ('spot_id', models.PositiveBigIntegerField()),
                ('minute', models.DateTimeField()),
                ('reason', models.CharField(choices=[('crowd', 'too many at once from one network')], max_length=8)),
                ('visits', models.PositiveIntegerField()),
            ],
            options={
                'indexes': [models.Index(fields=['business_id', 'minute'], name='left_out_period')],
                'constraints': [models.UniqueConstraint(fields=('spot_id', 'minute', 'reason'), name='left_out_once')],
            },
        ),
        migrations.CreateModel(
            name='NetworkMinute',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('network', models.CharField(max_length=16)),
                ('minute', models.DateTimeField()),
                ('visits', models.PositiveIntegerField()),
            ],
            options={
                'constraints': [models.UniqueConstraint(fields=('network', 'minute'), name='network_minute_once')],
            },
        ),
    ]
