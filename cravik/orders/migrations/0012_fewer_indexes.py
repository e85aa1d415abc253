"""No index that nobody looks up by: each is a page more to write with every payment."""


import django.db.models.deletion
from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('buyers', '0002_fewer_indexes'),
        ('checkout', '0006_fewer_indexes'),
        ('links', '0016_main_link'),
        ('orders', '0011_promised'),
        ('setup', '0006_ways_to_pay'),
    ]

    operations = [
        migrations.RemoveIndex(
            model_name='order',
            name='order_of_buyer',
        ),
        migrations.AlterField(
            model_name='order',
            name='business',
            field=models.ForeignKey(db_index=False, on_delete=django.db.models.deletion.PROTECT, to='setup.business'),
        ),
        migrations.AlterField(
            model_name='order',
            name='buyer',
            field=models.ForeignKey(db_index=False, null=True, on_delete=django.db.models.deletion.PROTECT, related_name='orders', to='buyers.buyer'),
        ),
        migrations.AlterField(
            model_name='order',
            name='code',
            field=models.ForeignKey(db_index=False, null=True, on_delete=django.db.models.deletion.PROTECT, to='links.linkcode'),
        ),
        migrations.AlterField(
            model_name='order',
            name='link',
            field=models.ForeignKey(db_index=False, on_delete=django.db.models.deletion.PROTECT, to='links.link'),
        ),
        migrations.AlterField(
            model_name='order',
            name='spot',
            field=models.ForeignKey(db_index=False, on_delete=django.db.models.deletion.PROTECT, to='links.spot'),
        ),
        migrations.AddIndex(
            model_name='order',
            index=models.Index(condition=models.Q(('buyer__isnull', False)), fields=['buyer', 'link'], name='order_of_buyer'),
        ),
        migrations.AddIndex(
            model_name='order',
            index=models.Index(condition=models.Q(('code__isnull', False)), fields=['code'], name='order_of_code'),
        ),
    ]
