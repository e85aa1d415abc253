"""What is paid over time: when a due is asked for next, how it is stopped and paused, and by which rules."""

import django.db.models.deletion
from django.db import migrations, models
from django.db.models import F, OuterRef, Subquery


def say_whose(apps, schema_editor):
    """Agreements know their business; what ran was rehearsed, and its dues are taken on their days."""
    Checkout = apps.get_model('checkout', 'Checkout')
    Agreement, Due = apps.get_model('payments', 'Agreement'), apps.get_model('payments', 'Due')
    of_it = Checkout.objects.filter(id=OuterRef('checkout_id'))
    Agreement.objects.update(
        business_id=Subquery(of_it.values('business_id')[:1]), rehearsal=Subquery(of_it.values('rehearsal')[:1])
    )
    running = Agreement.objects.filter(state='running', kept_card__isnull=False).values('checkout_id')
    ahead = Due.objects.filter(checkout_id__in=running, state__in=['open', 'part'], position__gt=0)
    ahead.update(collect_on=F('on'))



class Migration(migrations.Migration):

    dependencies = [
        ('checkout', '0009_number_locale'),
        ('payments', '0012_refunds_by_line'),
        ('setup', '0008_running'),
    ]

    operations = [
        migrations.RemoveConstraint(
            model_name='due',
            name='due_paid_within',
        ),
        migrations.RemoveConstraint(
            model_name='due',
            name='due_tried_again_once_failed',
        ),
        migrations.RemoveField(
            model_name='due',
            name='next_try_at',
        ),
        migrations.AddField(
            model_name='agreement',
            name='ahead_days',
            field=models.PositiveIntegerField(default=0),
        ),
        migrations.AddField(
            model_name='agreement',
            name='business',
            field=models.ForeignKey(db_index=False, null=True, on_delete=django.db.models.deletion.PROTECT, to='setup.business'),
        ),
        migrations.AddField(
            model_name='agreement',
            name='ends_on',
            field=models.DateField(null=True),
        ),
        migrations.AddField(
            model_name='agreement',
            name='paused_at',
            field=models.DateTimeField(null=True),
        ),
        migrations.AddField(
            model_name='agreement',
            name='rehearsal',
            field=models.BooleanField(null=True),
        ),
        migrations.AddField(
            model_name='agreement',
            name='resumes_on',
            field=models.DateField(null=True),
        ),
        migrations.AddField(
            model_name='agreement',
            name='rules',
            field=models.JSONField(default=dict),
        ),
        migrations.AddField(
            model_name='agreement',
            name='stop_words',
            field=models.CharField(blank=True, default='', max_length=300),
        ),
        migrations.AddField(
            model_name='agreement',
            name='why',
            field=models.CharField(blank=True, choices=[('completed', 'all of it was paid'), ('buyer', 'by the buyer'), ('seller', 'by you'), ('declined', 'a payment could not be taken')], default='', max_length=9),
        ),
        migrations.AddField(
            model_name='due',
            name='collect_on',
            field=models.DateField(null=True),
        ),
        migrations.AddField(
            model_name='due',
            name='reason',
            field=models.CharField(blank=True, default='', max_length=200),
        ),
        migrations.AddField(
            model_name='due',
            name='tell_on',
            field=models.DateField(null=True),
        ),
        migrations.AlterField(
            model_name='agreement',
            name='state',
            field=models.CharField(choices=[('offered', 'Offered'), ('running', 'Running'), ('paused', 'Paused'), ('ended', 'Ended')], default='offered', max_length=7),
        ),
        migrations.AlterField(
            model_name='agreement',
            name='words',
            field=models.CharField(max_length=1000),
        ),
        migrations.AlterField(
            model_name='due',
            name='state',
            field=models.CharField(choices=[('open', 'Open'), ('part', 'paid in part'), ('paid', 'Paid'), ('failed', 'Failed'), ('skipped', 'Skipped'), ('waived', 'Waived'), ('cancelled', 'Cancelled')], default='open', max_length=9),
        ),
        migrations.RunPython(say_whose, migrations.RunPython.noop),
        migrations.AlterField(
            model_name='agreement',
            name='business',
            field=models.ForeignKey(db_index=False, on_delete=django.db.models.deletion.PROTECT, to='setup.business'),
        ),
        migrations.AlterField(
            model_name='agreement',
            name='rehearsal',
            field=models.BooleanField(),
        ),
        migrations.AddIndex(
            model_name='agreement',
            index=models.Index(condition=models.Q(('rehearsal', False)), fields=['business', 'state', '-agreed_at'], name='agreement_running'),
        ),
        migrations.AddIndex(
            model_name='agreement',
            index=models.Index(condition=models.Q(('ends_on__isnull', False)), fields=['ends_on'], name='agreement_ends'),
        ),
        migrations.AddIndex(
            model_name='agreement',
            index=models.Index(condition=models.Q(('resumes_on__isnull', False)), fields=['resumes_on'], name='agreement_resumes'),
        ),
        migrations.AddIndex(
            model_name='due',
            index=models.Index(condition=models.Q(('collect_on__isnull', False)), fields=['collect_on'], name='due_to_collect'),
        ),
        migrations.AddIndex(
            model_name='due',
            index=models.Index(condition=models.Q(('tell_on__isnull', False)), fields=['tell_on'], name='due_to_tell'),
        ),
        migrations.AddConstraint(
            model_name='agreement',
            constraint=models.CheckConstraint(condition=models.Q(models.Q(('paused_at__isnull', False), ('state', 'paused')), models.Q(models.Q(('state', 'paused'), _negated=True), ('paused_at__isnull', True)), _connector='OR'), name='agreement_pause_has_instant'),
        ),
        migrations.AddConstraint(
            model_name='due',
            constraint=models.CheckConstraint(condition=models.Q(models.Q(('paid_minor', models.F('amount_minor')), ('state', 'paid')), models.Q(('paid_minor', 0), ('state', 'open')), models.Q(('paid_minor__gt', 0), ('paid_minor__lt', models.F('amount_minor')), ('state', 'part')), models.Q(('paid_minor__lt', models.F('amount_minor')), ('state__in', ['failed', 'skipped', 'waived', 'cancelled'])), models.Q(('amount_minor', 0), ('state__in', ['skipped', 'waived', 'cancelled'])), _connector='OR'), name='due_paid_within'),
        ),
        migrations.AddConstraint(
            model_name='due',
            constraint=models.CheckConstraint(condition=models.Q(models.Q(('collect_on__isnull', True), ('tell_on__isnull', True)), ('state__in', ['open', 'part', 'failed']), _connector='OR'), name='due_awaited_while_unpaid'),
        ),
    ]
