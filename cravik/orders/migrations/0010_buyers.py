"""A row for each buyer, with their orders hanging on it."""

import django.db.models.deletion
from django.db import migrations, models
from django.db.models import F, OuterRef, Subquery


def make_buyers(apps, schema_editor):
    Order, Buyer = apps.get_model('orders', 'Order'), apps.get_model('buyers', 'Buyer')
    found = {}
    orders = Order.objects.filter(rehearsal=False).order_by('paid_at', 'id')
    rows = orders.values_list('business_id', 'buyer_key', 'buyer_email', 'buyer_name', 'paid_at')
    for business_id, key, email, name, paid_at in rows.iterator():
        buyer = found.setdefault((business_id, key), Buyer(business_id=business_id, key=key, made_at=paid_at))
        buyer.email, buyer.name = email, name
    Buyer.objects.bulk_create(found.values(), batch_size=1000)
    same = Buyer.objects.filter(business_id=OuterRef('business_id'), key=OuterRef('buyer_key'))
    Order.objects.filter(rehearsal=False).update(buyer_id=Subquery(same.values('id')[:1]))
    Event = apps.get_model('events', 'Event')
    of_order = Order.objects.filter(id=OuterRef('order_id')).annotate(of=F('buyer_id'))
    Event.objects.filter(order_id__isnull=False).update(buyer_id=Subquery(of_order.values('of')[:1]))


class Migration(migrations.Migration):

    dependencies = [
        ('buyers', '0001_initial'),
        ('checkout', '0005_network'),
        ('events', '0001_initial'),
        ('links', '0016_main_link'),
        ('orders', '0009_what_happened_before'),
        ('setup', '0005_roles'),
    ]

    operations = [
        migrations.RemoveIndex(
            model_name='order',
            name='order_of_buyer',
        ),
        migrations.AddField(
            model_name='order',
            name='buyer',
            field=models.ForeignKey(null=True, on_delete=django.db.models.deletion.PROTECT, related_name='orders', to='buyers.buyer'),
        ),
        migrations.RunPython(make_buyers, migrations.RunPython.noop),
        migrations.RemoveField(
            model_name='order',
            name='buyer_key',
        ),
        migrations.AddIndex(
            model_name='order',
            index=models.Index(condition=models.Q(('rehearsal', False)), fields=['link', 'buyer'], name='order_of_buyer'),
        ),
        migrations.AddConstraint(
            model_name='order',
            constraint=models.CheckConstraint(condition=models.Q(models.Q(('buyer__isnull', True), ('rehearsal', True)), models.Q(('buyer__isnull', False), ('rehearsal', False)), _connector='OR'), name='order_has_its_buyer'),
        ),
    ]
