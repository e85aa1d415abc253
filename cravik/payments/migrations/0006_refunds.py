"""Refunds, and which checkout a movement is of."""

import django.db.models.deletion
from django.conf import settings
from django.db import migrations, models


def name_the_checkout(apps, schema_editor):
    movements = apps.get_model('payments', 'Movement').objects
    of_due = apps.get_model('payments', 'Due').objects.filter(id=models.OuterRef('due_id'))
    movements.update(checkout_id=models.Subquery(of_due.values('checkout_id')))


class Migration(migrations.Migration):

    dependencies = [
        ('checkout', '0005_network'),
        ('links', '0016_main_link'),
        # It reads what a charge paid from where it stood before.
        ('orders', '0009_what_happened_before'),
        ('payments', '0005_pieces'),
        ('setup', '0005_roles'),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.CreateModel(
            name='Refund',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('key', models.CharField(max_length=64, unique=True)),
                ('state', models.CharField(choices=[('pending', 'Pending'), ('done', 'Done'), ('refused', 'Refused')], default='pending', max_length=7)),
                ('reason', models.CharField(blank=True, max_length=32)),
                ('amount_minor', models.PositiveBigIntegerField()),
                ('currency', models.CharField(max_length=3)),
                ('gateway_reference', models.CharField(blank=True, max_length=40)),
                ('by', models.CharField(max_length=7)),
                ('by_name', models.CharField(blank=True, max_length=254)),
                ('begun_at', models.DateTimeField()),
                ('answered_at', models.DateTimeField(null=True)),
            ],
            options={
                'ordering': ['id'],
            },
        ),
        migrations.RemoveConstraint(
            model_name='movement',
            name='movement_has_its_sign',
        ),
        migrations.AddField(
            model_name='attempt',
            name='refunded_minor',
            field=models.PositiveBigIntegerField(default=0),
        ),
        migrations.AddField(
            model_name='movement',
            name='checkout',
            field=models.ForeignKey(null=True, on_delete=django.db.models.deletion.PROTECT, related_name='movements', to='checkout.checkout'),
        ),
        migrations.RunPython(name_the_checkout, migrations.RunPython.noop),
        migrations.AlterField(
            model_name='movement',
            name='checkout',
            field=models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='movements', to='checkout.checkout'),
        ),
        migrations.RemoveField(
            model_name='movement',
            name='due',
        ),
        migrations.AddField(
            model_name='movement',
            name='undoes',
            field=models.ForeignKey(null=True, on_delete=django.db.models.deletion.PROTECT, related_name='undone_by', to='payments.movement'),
        ),
        migrations.AddConstraint(
            model_name='attempt',
            constraint=models.CheckConstraint(condition=models.Q(('refunded_minor', 0), models.Q(('refunded_minor__lte', models.F('amount_minor')), ('state', 'approved')), _connector='OR'), name='attempt_refunded_within'),
        ),
        migrations.AddField(
            model_name='refund',
            name='charge',
            field=models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='refunds', to='payments.attempt'),
        ),
        migrations.AddField(
            model_name='refund',
            name='user',
            field=models.ForeignKey(null=True, on_delete=django.db.models.deletion.SET_NULL, to=settings.AUTH_USER_MODEL),
        ),
        migrations.AddField(
            model_name='movement',
            name='refund',
            field=models.OneToOneField(null=True, on_delete=django.db.models.deletion.PROTECT, related_name='movement', to='payments.refund'),
        ),
        migrations.AddConstraint(
            model_name='movement',
            constraint=models.CheckConstraint(condition=models.Q(models.Q(('amount_minor__gt', 0), ('attempt__isnull', False), ('kind', 'charge'), ('refund__isnull', True), ('undoes__isnull', True)), models.Q(('amount_minor__lt', 0), ('attempt__isnull', True), ('kind', 'refund'), ('refund__isnull', False), ('undoes__isnull', False)), _connector='OR'), name='movement_has_its_sign'),
        ),
        migrations.AddIndex(
            model_name='refund',
            index=models.Index(condition=models.Q(('state', 'pending')), fields=['begun_at'], name='refund_pending'),
        ),
        migrations.AddConstraint(
            model_name='refund',
            constraint=models.CheckConstraint(condition=models.Q(models.Q(('answered_at__isnull', True), ('state', 'pending')), models.Q(models.Q(('state', 'pending'), _negated=True), ('answered_at__isnull', False)), _connector='OR'), name='refund_answer_has_instant'),
        ),
        migrations.AddConstraint(
            model_name='refund',
            constraint=models.CheckConstraint(condition=models.Q(('amount_minor__gt', 0)), name='refund_above_zero'),
        ),
    ]
