"""How far orders are, what was sent of them, whether all of the money went back, and which letters are about them."""

import django.db.models.deletion
import re
from datetime import timedelta

from django.db import migrations, models
from django.db.models import Sum
from django.utils import timezone

#: What is sent and was ordered longer ago than this is taken for done.
TO_DO_FOR = timedelta(days=30)


def note_what_is_to_do(apps, schema_editor):
    Order, Movement = apps.get_model('orders', 'Order'), apps.get_model('payments', 'Movement')
    sent = Order.objects.filter(made_at__gte=timezone.now() - TO_DO_FOR, checkout__where__has_key='street')
    Order.objects.filter(id__in=sent.values('id')).update(stage='to_do')
    returned = Movement.objects.filter(kind='refund').values('checkout')
    sums = Movement.objects.filter(checkout__in=returned).order_by().values('checkout').annotate(left=Sum('amount_minor'))
    Order.objects.filter(checkout__in=sums.filter(left=0).values('checkout')).update(is_refunded=True)


def note_orders_of_letters(apps, schema_editor):
    Letter, Order = apps.get_model('mailroom', 'Letter'), apps.get_model('orders', 'Order')
    Refund = apps.get_model('payments', 'Refund')
    by_checkout = dict(Order.objects.values_list('checkout', 'id'))
    by_refund = {
        refund: by_checkout.get(checkout) for refund, checkout in Refund.objects.values_list('id', 'charge__checkout')
    }
    there, changed = set(by_checkout.values()), []
    for letter in Letter.objects.filter(occasion__regex='^(order|refund)-[0-9]').only('id', 'occasion').iterator():
        kind, number = re.match(r'(order|refund)-(\d+)', letter.occasion).groups()
        order_id = int(number) if kind == 'order' else by_refund.get(int(number))
        if order_id in there:
            letter.order_id = order_id
            changed.append(letter)
    Letter.objects.bulk_update(changed, ['order_id'], batch_size=500)


class Migration(migrations.Migration):

    dependencies = [
        ('buyers', '0002_fewer_indexes'),
        ('checkout', '0007_versions'),
        ('links', '0019_versions'),
        ('orders', '0013_versions'),
        ('mailroom', '0003_letters_of_orders'),
        ('payments', '0010_refund_note'),
        ('setup', '0007_looks_and_terms'),
    ]

    operations = [
        migrations.CreateModel(
            name='Parcel',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('key', models.CharField(max_length=50, unique=True)),
                ('carrier', models.CharField(blank=True, max_length=60)),
                ('tracking', models.CharField(blank=True, max_length=300)),
                ('sent_at', models.DateTimeField()),
            ],
            options={
                'ordering': ['id'],
            },
        ),
        migrations.AddField(
            model_name='order',
            name='is_refunded',
            field=models.BooleanField(default=False),
        ),
        migrations.AddField(
            model_name='order',
            name='stage',
            field=models.CharField(choices=[('to_do', 'to do'), ('sent', 'sent'), ('done', 'done')], default='done', max_length=5),
        ),
        migrations.AddIndex(
            model_name='order',
            index=models.Index(condition=models.Q(('stage', 'to_do')), fields=['business', '-made_at'], name='order_to_do'),
        ),
        migrations.AddIndex(
            model_name='order',
            index=models.Index(condition=models.Q(('paid_at__isnull', True)), fields=['business', '-made_at'], name='order_unpaid'),
        ),
        migrations.AddField(
            model_name='parcel',
            name='order',
            field=models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='parcels', to='orders.order'),
        ),
        migrations.RunPython(note_what_is_to_do, migrations.RunPython.noop),
        migrations.RunPython(note_orders_of_letters, migrations.RunPython.noop),
    ]
