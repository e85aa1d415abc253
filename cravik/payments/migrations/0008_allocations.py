"""Which dues a charge is for, by which way it is paid, and what was agreed for later."""

import django.db.models.deletion
from django.conf import settings
from django.db import migrations, models
from django.db.models import F, OuterRef, Subquery
from django.db.models.functions import JSONObject


def allocate(apps, schema_editor):
    """Each attempt was for one due, and by card. Where a bank asked, it asked on a page."""
    Attempt, Due = apps.get_model('payments', 'Attempt'), apps.get_model('payments', 'Due')
    Allocation = apps.get_model('payments', 'Allocation')
    of_due = Due.objects.filter(id=OuterRef('due_id')).values('checkout_id')
    Attempt.objects.update(checkout_id=Subquery(of_due), details=JSONObject(ending=F('card_ending')))
    Attempt.objects.exclude(check_address='').update(
        details=JSONObject(ending=F('card_ending'), bank=F('check_address'))
    )
    rows = Attempt.objects.values_list('id', 'due_id', 'amount_minor', 'state').order_by('id')
    Allocation.objects.bulk_create(
        (
            Allocation(attempt_id=attempt, due_id=due, amount_minor=minor, undecided=state == 'pending')
            for attempt, due, minor, state in rows.iterator()
        ),
        batch_size=2000,
    )
    Due.objects.filter(state='paid').update(paid_minor=F('amount_minor'))


class Migration(migrations.Migration):

    dependencies = [
        ('checkout', '0005_network'),
        ('payments', '0007_fewer_indexes'),
        ('setup', '0006_ways_to_pay'),
    ]

    operations = [
        migrations.CreateModel(
            name='Agreement',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('state', models.CharField(choices=[('offered', 'Offered'), ('running', 'Running'), ('ended', 'Ended')], default='offered', max_length=7)),
                ('words', models.CharField(max_length=500)),
                ('plan', models.JSONField(null=True)),
                ('begins_on', models.DateField()),
                ('until', models.DateField(null=True)),
                ('each_minor', models.PositiveBigIntegerField()),
                ('at_first_minor', models.PositiveBigIntegerField(null=True)),
                ('in_all_minor', models.PositiveBigIntegerField(null=True)),
                ('currency', models.CharField(max_length=3)),
                ('agreed_at', models.DateTimeField()),
                ('ended_at', models.DateTimeField(null=True)),
            ],
        ),
        migrations.CreateModel(
            name='Allocation',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('amount_minor', models.PositiveBigIntegerField()),
                ('undecided', models.BooleanField(default=True)),
            ],
        ),
        migrations.CreateModel(
            name='KeptCard',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('token', models.CharField(max_length=64, unique=True)),
                ('ending', models.CharField(max_length=4)),
                ('kept_at', models.DateTimeField()),
            ],
        ),
        migrations.RemoveConstraint(
            model_name='attempt',
            name='attempt_one_open',
        ),
        migrations.RemoveConstraint(
            model_name='due',
            name='due_paid_has_instant',
        ),
        migrations.AddField(
            model_name='attempt',
            name='awaited_until',
            field=models.DateTimeField(null=True),
        ),
        migrations.AddField(
            model_name='attempt',
            name='by',
            field=models.CharField(default='buyer', max_length=7),
            preserve_default=False,
        ),
        migrations.AddField(
            model_name='attempt',
            name='by_name',
            field=models.CharField(blank=True, default='', max_length=254),
            preserve_default=False,
        ),
        migrations.AddField(
            model_name='attempt',
            name='user',
            field=models.ForeignKey(db_index=False, null=True, on_delete=django.db.models.deletion.SET_NULL, related_name='+', to=settings.AUTH_USER_MODEL),
        ),
        migrations.AlterField(
            model_name='refund',
            name='user',
            field=models.ForeignKey(db_index=False, null=True, on_delete=django.db.models.deletion.SET_NULL, related_name='+', to=settings.AUTH_USER_MODEL),
        ),
        migrations.AddField(
            model_name='attempt',
            name='checkout',
            field=models.ForeignKey(null=True, on_delete=django.db.models.deletion.PROTECT, related_name='attempts', to='checkout.checkout'),
        ),
        migrations.AddField(
            model_name='attempt',
            name='details',
            field=models.JSONField(default=dict),
        ),
        migrations.AddField(
            model_name='attempt',
            name='way',
            field=models.CharField(default='card', max_length=12),
            preserve_default=False,
        ),
        migrations.AddField(
            model_name='due',
            name='next_try_at',
            field=models.DateTimeField(null=True),
        ),
        migrations.AddField(
            model_name='due',
            name='paid_minor',
            field=models.PositiveBigIntegerField(default=0),
        ),
        migrations.AlterField(
            model_name='due',
            name='state',
            field=models.CharField(choices=[('open', 'Open'), ('part', 'paid in part'), ('paid', 'Paid'), ('failed', 'Failed'), ('waived', 'Waived'), ('cancelled', 'Cancelled')], default='open', max_length=9),
        ),
        migrations.AddField(
            model_name='agreement',
            name='checkout',
            field=models.OneToOneField(on_delete=django.db.models.deletion.PROTECT, related_name='agreement', to='checkout.checkout'),
        ),
        migrations.AddField(
            model_name='allocation',
            name='attempt',
            field=models.ForeignKey(db_index=False, on_delete=django.db.models.deletion.PROTECT, related_name='allocations', to='payments.attempt'),
        ),
        migrations.AddField(
            model_name='allocation',
            name='due',
            field=models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='allocations', to='payments.due'),
        ),
        migrations.RunPython(allocate, migrations.RunPython.noop),
        migrations.AlterField(
            model_name='attempt',
            name='checkout',
            field=models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='attempts', to='checkout.checkout'),
        ),
        migrations.RemoveField(
            model_name='attempt',
            name='card_ending',
        ),
        migrations.RemoveField(
            model_name='attempt',
            name='check_address',
        ),
        migrations.RemoveField(
            model_name='attempt',
            name='due',
        ),
        migrations.AddConstraint(
            model_name='due',
            constraint=models.CheckConstraint(condition=models.Q(models.Q(('paid_at__isnull', False), ('state', 'paid')), models.Q(models.Q(('state', 'paid'), _negated=True), ('paid_at__isnull', True)), _connector='OR'), name='due_paid_has_instant'),
        ),
        migrations.AddConstraint(
            model_name='due',
            constraint=models.CheckConstraint(condition=models.Q(models.Q(('paid_minor', models.F('amount_minor')), ('state', 'paid')), models.Q(('paid_minor', 0), ('state', 'open')), models.Q(('paid_minor__gt', 0), ('paid_minor__lt', models.F('amount_minor')), ('state', 'part')), models.Q(('paid_minor__lt', models.F('amount_minor')), ('state__in', ['failed', 'waived', 'cancelled'])), _connector='OR'), name='due_paid_within'),
        ),
        migrations.AddConstraint(
            model_name='due',
            constraint=models.CheckConstraint(condition=models.Q(('next_try_at__isnull', True), ('state', 'failed'), _connector='OR'), name='due_tried_again_once_failed'),
        ),
        migrations.AddField(
            model_name='keptcard',
            name='business',
            field=models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, to='setup.business'),
        ),
        migrations.AddField(
            model_name='keptcard',
            name='kept_by',
            field=models.OneToOneField(on_delete=django.db.models.deletion.PROTECT, related_name='kept_card', to='payments.attempt'),
        ),
        migrations.AddField(
            model_name='agreement',
            name='kept_card',
            field=models.ForeignKey(null=True, on_delete=django.db.models.deletion.PROTECT, related_name='agreements', to='payments.keptcard'),
        ),
        migrations.AddConstraint(
            model_name='allocation',
            constraint=models.UniqueConstraint(fields=('attempt', 'due'), name='allocation_once'),
        ),
        migrations.AddConstraint(
            model_name='allocation',
            constraint=models.UniqueConstraint(condition=models.Q(('undecided', True)), fields=('due',), name='allocation_one_undecided'),
        ),
        migrations.AddConstraint(
            model_name='agreement',
            constraint=models.CheckConstraint(condition=models.Q(models.Q(('ended_at__isnull', False), ('state', 'ended')), models.Q(models.Q(('state', 'ended'), _negated=True), ('ended_at__isnull', True)), _connector='OR'), name='agreement_end_has_instant'),
        ),
    ]
