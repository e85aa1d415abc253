"""What buyers ask for of their orders; refunds that were asked for before are carried over."""

import django.db.models.deletion
from django.db import migrations, models


def carry_over(apps, schema_editor):
    """Each refund that was asked for, settled where the money went back since."""
    Event, Order, Wish = (apps.get_model(*each) for each in (('events', 'Event'), ('orders', 'Order'), ('orders', 'Wish')))
    for event in Event.objects.filter(kind='order.refund_asked').order_by('id').iterator():
        order = Order.objects.filter(id=event.order_id).first()
        if order is not None:
            settled_at = event.at if order.is_refunded else None
            words = event.data.get('wish', '')
            Wish.objects.get_or_create(
                order=order, kind='refund', defaults={'at': event.at, 'words': words, 'settled_at': settled_at}
            )


class Migration(migrations.Migration):

    dependencies = [
        ('orders', '0018_purchases'),
        ('events', '0003_items'),
    ]

    operations = [
        migrations.CreateModel(
            name='Wish',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('kind', models.CharField(choices=[('refund', 'Refund'), ('withdrawal', 'Withdrawal')], max_length=10)),
                ('at', models.DateTimeField()),
                ('words', models.CharField(blank=True, max_length=500)),
                ('lines', models.JSONField(default=list)),
                ('settled_at', models.DateTimeField(null=True)),
                ('order', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='wishes', to='orders.order')),
            ],
            options={
                'ordering': ['id'],
                'indexes': [models.Index(condition=models.Q(('settled_at__isnull', True)), fields=['order'], name='wish_open')],
                'constraints': [models.UniqueConstraint(condition=models.Q(('kind', 'refund')), fields=('order',), name='refund_asked_once')],
            },
        ),
        migrations.RunPython(carry_over, migrations.RunPython.noop),
    ]
