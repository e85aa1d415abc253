"""What sellers propose to buyers who pay over time."""

import django.db.models.deletion
from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('payments', '0013_running'),
    ]

    operations = [
        migrations.CreateModel(
            name='Proposal',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('amount_minor', models.PositiveBigIntegerField()),
                ('currency', models.CharField(max_length=3)),
                ('from_on', models.DateField()),
                ('words', models.CharField(blank=True, max_length=300)),
                ('made_at', models.DateTimeField()),
                ('answered_at', models.DateTimeField(null=True)),
                ('accepted', models.BooleanField(default=False)),
                ('agreement', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='proposals', to='payments.agreement')),
            ],
            options={
                'ordering': ['id'],
                'constraints': [models.UniqueConstraint(condition=models.Q(('answered_at__isnull', True)), fields=('agreement',), name='proposal_one_open')],
            },
        ),
    ]
