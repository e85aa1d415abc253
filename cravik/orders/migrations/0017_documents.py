"""Receipts, invoices and credit notes with their numbers. They begin with the movements that come from now on."""

import django.db.models.deletion
from django.db import migrations, models


def begin_here(apps, schema_editor):
    last = apps.get_model('payments', 'Movement').objects.order_by('-id').values_list('id', flat=True).first()
    if last:
        apps.get_model('orders', 'DocumentDesk').objects.create(id=1, last_movement_id=last)


class Migration(migrations.Migration):

    dependencies = [
        ('orders', '0016_sums_and_places'),
        ('payments', '0012_refunds_by_line'),
        ('setup', '0007_looks_and_terms'),
    ]

    operations = [
        migrations.CreateModel(
            name='DocumentDesk',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('last_movement_id', models.PositiveBigIntegerField(default=0)),
            ],
        ),
        migrations.CreateModel(
            name='OrderSettings',
            fields=[
                ('business', models.OneToOneField(on_delete=django.db.models.deletion.CASCADE, primary_key=True, serialize=False, to='setup.business')),
                ('invoices', models.CharField(choices=[('asked', 'When a buyer asks for one'), ('always', 'For every order'), ('never', 'Never; receipts only')], default='asked', max_length=6)),
                ('shows_quantities', models.BooleanField(default=True)),
                ('note', models.CharField(blank=True, default='', max_length=300)),
                ('fields', models.JSONField(default=list)),
                ('cost_percent', models.CharField(blank=True, default='', max_length=8)),
                ('cost_fixed_minor', models.PositiveIntegerField(default=0)),
                ('cost_most_minor', models.PositiveIntegerField(null=True)),
                ('fee_comes_back', models.BooleanField(default=False)),
                ('revision', models.PositiveIntegerField(default=0)),
                ('changed_at', models.DateTimeField(null=True)),
            ],
        ),
        migrations.AddField(
            model_name='order',
            name='invoice_to',
            field=models.JSONField(null=True),
        ),
        migrations.CreateModel(
            name='IssuedDocument',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('kind', models.CharField(choices=[('receipt', 'Receipt'), ('invoice', 'Invoice'), ('correction', 'Credit note')], max_length=10)),
                ('rehearsal', models.BooleanField()),
                ('stem', models.CharField(blank=True, max_length=32)),
                ('number', models.PositiveIntegerField()),
                ('currency', models.CharField(max_length=3)),
                ('total_minor', models.PositiveBigIntegerField()),
                ('tax_minor', models.PositiveBigIntegerField()),
                ('content', models.JSONField()),
                ('issued_at', models.DateTimeField()),
                ('business', models.ForeignKey(db_index=False, on_delete=django.db.models.deletion.PROTECT, to='setup.business')),
                ('corrects', models.ForeignKey(db_index=False, null=True, on_delete=django.db.models.deletion.PROTECT, related_name='corrections', to='orders.issueddocument')),
                ('movement', models.ForeignKey(db_index=False, on_delete=django.db.models.deletion.PROTECT, related_name='documents', to='payments.movement')),
                ('order', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='documents', to='orders.order')),
            ],
            options={
                'ordering': ['id'],
                'constraints': [models.UniqueConstraint(fields=('business', 'stem', 'number'), name='issued_number_once'), models.UniqueConstraint(fields=('movement', 'kind'), name='issued_once_a_movement'), models.CheckConstraint(condition=models.Q(('kind', 'correction'), ('corrects__isnull', True), _connector='OR'), name='issued_corrects_as_correction')],
            },
        ),
        migrations.CreateModel(
            name='NumberSeries',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('kind', models.CharField(choices=[('receipt', 'Receipt'), ('invoice', 'Invoice'), ('correction', 'Credit note')], max_length=10)),
                ('rehearsal', models.BooleanField(default=False)),
                ('prefix', models.CharField(blank=True, max_length=24)),
                ('with_year', models.BooleanField(default=True)),
                ('year', models.PositiveSmallIntegerField(default=0)),
                ('last_number', models.PositiveIntegerField(default=0)),
                ('business', models.ForeignKey(db_index=False, on_delete=django.db.models.deletion.CASCADE, to='setup.business')),
            ],
            options={
                'constraints': [models.UniqueConstraint(fields=('business', 'kind', 'rehearsal'), name='number_series_once')],
            },
        ),
        migrations.RunPython(begin_here, migrations.RunPython.noop),
    ]
