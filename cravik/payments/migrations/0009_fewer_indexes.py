"""No index that nobody looks up by: each is a page more to write with every payment."""


import django.db.models.deletion
from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('catalogue', '0004_who_confirmed_a_table'),
        ('checkout', '0006_fewer_indexes'),
        ('links', '0016_main_link'),
        ('payments', '0008_allocations'),
        ('setup', '0006_ways_to_pay'),
    ]

    operations = [
        migrations.AlterField(
            model_name='due',
            name='checkout',
            field=models.ForeignKey(db_index=False, on_delete=django.db.models.deletion.PROTECT, related_name='dues', to='checkout.checkout'),
        ),
        migrations.AlterField(
            model_name='hold',
            name='access_code',
            field=models.ForeignKey(db_index=False, null=True, on_delete=django.db.models.deletion.SET_NULL, related_name='+', to='catalogue.accesscode'),
        ),
        migrations.AlterField(
            model_name='hold',
            name='code',
            field=models.ForeignKey(db_index=False, null=True, on_delete=django.db.models.deletion.PROTECT, related_name='+', to='links.linkcode'),
        ),
        migrations.AlterField(
            model_name='hold',
            name='variant',
            field=models.ForeignKey(db_index=False, null=True, on_delete=django.db.models.deletion.SET_NULL, related_name='+', to='catalogue.variant'),
        ),
        migrations.AlterField(
            model_name='movement',
            name='business',
            field=models.ForeignKey(db_index=False, on_delete=django.db.models.deletion.PROTECT, to='setup.business'),
        ),
        migrations.AlterField(
            model_name='movement',
            name='link',
            field=models.ForeignKey(db_index=False, on_delete=django.db.models.deletion.PROTECT, to='links.link'),
        ),
        migrations.AlterField(
            model_name='movement',
            name='spot',
            field=models.ForeignKey(db_index=False, on_delete=django.db.models.deletion.PROTECT, to='links.spot'),
        ),
        migrations.AddIndex(
            model_name='hold',
            index=models.Index(condition=models.Q(('code__isnull', False)), fields=['code'], name='hold_of_code'),
        ),
        migrations.AddIndex(
            model_name='hold',
            index=models.Index(condition=models.Q(('variant__isnull', False)), fields=['variant'], name='hold_of_variant'),
        ),
        migrations.AddIndex(
            model_name='hold',
            index=models.Index(condition=models.Q(('access_code__isnull', False)), fields=['access_code'], name='hold_of_access_code'),
        ),
        migrations.AddIndex(
            model_name='movement',
            index=models.Index(condition=models.Q(('rehearsal', False)), fields=['business', 'link', 'at', 'spot', 'currency', 'amount_minor'], name='movement_money_of_link'),
        ),
    ]
