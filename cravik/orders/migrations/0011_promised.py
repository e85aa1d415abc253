"""Orders that were promised and are not paid yet."""

from django.db import migrations, models


def made_when_paid(apps, schema_editor):
    apps.get_model('orders', 'Order').objects.update(made_at=models.F('paid_at'))


class Migration(migrations.Migration):

    dependencies = [
        ('buyers', '0002_fewer_indexes'),
        ('checkout', '0005_network'),
        ('links', '0016_main_link'),
        ('orders', '0010_buyers'),
        ('setup', '0006_ways_to_pay'),
    ]

    operations = [
        migrations.RemoveIndex(
            model_name='order',
            name='order_newest',
        ),
        migrations.AddField(
            model_name='order',
            name='made_at',
            field=models.DateTimeField(null=True),
        ),
        migrations.RunPython(made_when_paid, migrations.RunPython.noop),
        migrations.AlterField(
            model_name='order',
            name='made_at',
            field=models.DateTimeField(),
        ),
        migrations.AlterField(
            model_name='order',
            name='paid_at',
            field=models.DateTimeField(null=True),
        ),
        migrations.AddIndex(
            model_name='order',
            index=models.Index(fields=['business', '-made_at'], name='order_newest'),
        ),
    ]
