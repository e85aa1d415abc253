"""By which way an order was paid first, and its options, by which it is found."""

from django.db import migrations, models

# One pass each: a lookup per order by its checkout.
WAY = """
UPDATE orders_order SET way = coalesce(
    (SELECT a.way FROM payments_attempt a WHERE a.checkout_id = orders_order.checkout_id AND a.state = 'approved'
     ORDER BY a.id LIMIT 1),
    CASE WHEN paid_at IS NULL THEN '' ELSE 'nothing' END)
"""
OPTIONS = """
UPDATE orders_order SET options = coalesce(
    (SELECT group_concat(l.options, ', ') FROM checkout_checkoutline l
     WHERE l.checkout_id = orders_order.checkout_id AND l.options != ''), '')
"""


class Migration(migrations.Migration):

    dependencies = [
        ('checkout', '0009_number_locale'),
        ('orders', '0019_wishes'),
        ('payments', '0012_refunds_by_line'),
    ]

    operations = [
        migrations.AddField('order', 'way', models.CharField(blank=True, default='', max_length=12)),
        migrations.AddField('order', 'options', models.CharField(blank=True, default='', max_length=1000)),
        migrations.RunSQL([WAY, OPTIONS], migrations.RunSQL.noop),
    ]
