"""The counter's tables, and its made-up cards: first digit 9, Luhn-valid, and nobody's."""


import django.db.models.deletion
from django.db import migrations, models
from stdnum import luhn

_CARDS = [
    ("900000000000001", "approve", "", "Approves"),
    ("900000000000011", "approve", "", "Approves too, for a second buyer"),
    ("900000000000101", "decline", "insufficient_funds", "Declines: not enough money on it"),
    ("900000000000102", "decline", "refused_by_bank", "Declines: the bank refuses, and gives no reason"),
    ("900000000000103", "decline", "expired_card", "Declines: it has expired"),
    ("900000000000104", "decline", "wrong_security_code", "Declines: the security code is wrong"),
    ("900000000000105", "decline", "limit_reached", "Declines: the day's limit is reached"),
    ("900000000000201", "dawdle", "", "Approves after 4 seconds"),
    ("900000000000202", "fall_silent", "", "Approves, but the answer gets lost; known within 2 minutes"),
]


def add_cards(apps, schema_editor):
    apps.get_model("counter", "CounterCard").objects.bulk_create(
        apps.get_model("counter", "CounterCard")(
            number=digits + luhn.calc_check_digit(digits), conduct=conduct, reason=reason, label=label, position=position
        )
        for position, (digits, conduct, reason, label) in enumerate(_CARDS, 1)
    )


def remove_cards(apps, schema_editor):
    apps.get_model("counter", "CounterCard").objects.all().delete()


class Migration(migrations.Migration):

    initial = True

    dependencies = [
    ]

    operations = [
        migrations.CreateModel(
            name='CounterCard',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('number', models.CharField(max_length=16, unique=True)),
                ('conduct', models.CharField(choices=[('approve', 'Approve'), ('decline', 'Decline'), ('dawdle', 'Dawdle'), ('fall_silent', 'Fall Silent')], max_length=12)),
                ('reason', models.CharField(blank=True, max_length=32)),
                ('label', models.CharField(max_length=80)),
                ('position', models.PositiveSmallIntegerField()),
            ],
            options={
                'ordering': ['position'],
            },
        ),
        migrations.CreateModel(
            name='CounterCharge',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('key', models.CharField(max_length=64, unique=True)),
                ('reference', models.CharField(max_length=40, unique=True)),
                ('outcome', models.CharField(choices=[('approved', 'Approved'), ('declined', 'Declined'), ('closed', 'Closed')], max_length=8)),
                ('reason', models.CharField(blank=True, max_length=32)),
                ('account', models.CharField(blank=True, max_length=40)),
                ('amount_minor', models.PositiveBigIntegerField(default=0)),
                ('currency', models.CharField(blank=True, max_length=3)),
                ('card_ending', models.CharField(blank=True, max_length=4)),
                ('statement_text', models.CharField(blank=True, max_length=22)),
                ('rehearsal', models.BooleanField(default=False)),
                ('decided_at', models.DateTimeField()),
            ],
        ),
        migrations.CreateModel(
            name='CounterEntry',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('what', models.CharField(max_length=120)),
                ('at', models.DateTimeField()),
                ('charge', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='entries', to='counter.countercharge')),
            ],
        ),
        migrations.CreateModel(
            name='CounterRefund',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('key', models.CharField(max_length=64, unique=True)),
                ('reference', models.CharField(max_length=40, unique=True)),
                ('amount_minor', models.PositiveBigIntegerField()),
                ('decided_at', models.DateTimeField()),
                ('charge', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='refunds', to='counter.countercharge')),
            ],
        ),
        migrations.RunPython(add_cards, remove_cards),
    ]
