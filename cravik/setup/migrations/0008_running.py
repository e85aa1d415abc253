"""How what is paid over time is collected and stopped."""

import cravik.setup.models.running
import django.db.models.deletion
from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('setup', '0007_looks_and_terms'),
    ]

    operations = [
        migrations.CreateModel(
            name='RunningSettings',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('business', models.ForeignKey(db_index=False, on_delete=django.db.models.deletion.CASCADE, to='setup.business')),
                ('revision', models.PositiveIntegerField(default=0)),
                ('decided_at', models.DateTimeField()),
                ('tries_after', models.JSONField(default=cravik.setup.models.running.usual_tries)),
                ('then', models.CharField(choices=[('pause', 'It pauses until the buyer has paid'), ('end', 'It ends')], default='pause', max_length=5)),
                ('stops', models.CharField(choices=[('period', 'When what they paid for is over'), ('now', 'At once'), ('ask', 'By writing to you')], default='period', max_length=6)),
                ('may_skip', models.BooleanField(default=False)),
                ('may_pause', models.BooleanField(default=False)),
                ('rest', models.CharField(choices=[('charged', 'Taken from the card on its day'), ('asked', 'Asked for by letter, paid by the buyer')], default='charged', max_length=7)),
                ('tell_days', models.PositiveSmallIntegerField(default=3)),
                ('takes_each_time', models.BooleanField(default=False)),
            ],
            options={
                'constraints': [models.UniqueConstraint(fields=('business', 'revision'), name='running_settings_once')],
            },
        ),
    ]
