"""Cards whose bank asks, answers late, never, or twice."""

import django.db.models.deletion
from django.db import migrations, models
from stdnum import luhn

_CARDS = [
    ("900000000000301", "check", "Asks on the bank's page first: approve, refuse or give up there"),
    ("900000000000302", "late", "Approves late: after 20 seconds, by itself"),
    ("900000000000303", "never", "Never answers: called off after 15 minutes"),
    ("900000000000304", "twice", "Approves, and says so three times over"),
]


def add_cards(apps, schema_editor):
    apps.get_model("counter", "CounterCard").objects.bulk_create(
        apps.get_model("counter", "CounterCard")(
            number=digits + luhn.calc_check_digit(digits), conduct=conduct, label=label, position=position
        )
        for position, (digits, conduct, label) in enumerate(_CARDS, 20)
    )


def remove_cards(apps, schema_editor):
    cards = apps.get_model("counter", "CounterCard").objects
    cards.filter(conduct__in=[conduct for _, conduct, _ in _CARDS]).delete()


class Migration(migrations.Migration):

    dependencies = [
        ('counter', '0001_initial'),
    ]

    operations = [
        migrations.CreateModel(
            name='CounterNotice',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('acknowledged_at', models.DateTimeField(null=True)),
            ],
        ),
        migrations.AddField(
            model_name='countercharge',
            name='approves_at',
            field=models.DateTimeField(null=True),
        ),
        migrations.AddField(
            model_name='countercharge',
            name='check_wanted',
            field=models.BooleanField(default=False),
        ),
        migrations.AddField(
            model_name='countercharge',
            name='return_address',
            field=models.CharField(blank=True, max_length=500),
        ),
        migrations.AlterField(
            model_name='countercard',
            name='conduct',
            field=models.CharField(choices=[('approve', 'Approve'), ('decline', 'Decline'), ('dawdle', 'Dawdle'), ('fall_silent', 'Fall Silent'), ('check', 'Check'), ('late', 'Late'), ('never', 'Never'), ('twice', 'Twice')], max_length=12),
        ),
        migrations.AlterField(
            model_name='countercharge',
            name='outcome',
            field=models.CharField(choices=[('approved', 'Approved'), ('declined', 'Declined'), ('open', 'Open'), ('closed', 'Closed')], max_length=8),
        ),
        migrations.AddIndex(
            model_name='countercharge',
            index=models.Index(condition=models.Q(('outcome', 'open')), fields=['approves_at'], name='counter_open'),
        ),
        migrations.AddField(
            model_name='counternotice',
            name='charge',
            field=models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='notices', to='counter.countercharge'),
        ),
        migrations.AddIndex(
            model_name='counternotice',
            index=models.Index(condition=models.Q(('acknowledged_at__isnull', True)), fields=['id'], name='counter_untold'),
        ),
        migrations.RunPython(add_cards, remove_cards),
    ]
