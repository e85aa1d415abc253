"""What moved for each order, and to which country it goes: what lists of them are summed, sorted and filtered by."""

from django.db import migrations, models
from django.db.models import OuterRef, Subquery, Sum, Value
from django.db.models.fields.json import KT
from django.db.models.functions import Coalesce, Substr


def fill_in(apps, schema_editor):
    Order, Movement = apps.get_model('orders', 'Order'), apps.get_model('payments', 'Movement')
    Checkout = apps.get_model('checkout', 'Checkout')
    moved = Movement.objects.filter(checkout=OuterRef('checkout')).order_by().values('checkout')
    sums = moved.annotate(minor=Sum('amount_minor')).values('minor')
    of_checkout = Checkout.objects.filter(id=OuterRef('checkout')).annotate(country=KT('where__country'))
    Order.objects.update(
        taken_minor=Coalesce(Subquery(sums), 0),
        country=Substr(Coalesce(Subquery(of_checkout.values('country')), Value('')), 1, 2),
    )


class Migration(migrations.Migration):

    dependencies = [
        ('orders', '0015_ticked_lines'),
        ('payments', '0011_failed_attempts'),
    ]

    operations = [
        migrations.AddField(
            model_name='order',
            name='country',
            field=models.CharField(blank=True, default='', max_length=2),
        ),
        migrations.AddField(
            model_name='order',
            name='taken_minor',
            field=models.BigIntegerField(default=0),
        ),
        migrations.RunPython(fill_in, migrations.RunPython.noop),
    ]
