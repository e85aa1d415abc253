"""No index that nobody looks up by: each is a page more to write with every payment."""


import django.db.models.deletion
from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('checkout', '0005_network'),
        ('links', '0016_main_link'),
        ('setup', '0006_ways_to_pay'),
    ]

    operations = [
        migrations.AlterField(
            model_name='checkout',
            name='agreed_to',
            field=models.ForeignKey(db_index=False, null=True, on_delete=django.db.models.deletion.PROTECT, to='setup.conditionsversion'),
        ),
        migrations.AlterField(
            model_name='checkout',
            name='business',
            field=models.ForeignKey(db_index=False, on_delete=django.db.models.deletion.PROTECT, to='setup.business'),
        ),
        migrations.AlterField(
            model_name='checkoutline',
            name='checkout',
            field=models.ForeignKey(db_index=False, on_delete=django.db.models.deletion.CASCADE, related_name='lines', to='checkout.checkout'),
        ),
        migrations.AlterField(
            model_name='checkoutline',
            name='code',
            field=models.ForeignKey(db_index=False, null=True, on_delete=django.db.models.deletion.PROTECT, to='links.linkcode'),
        ),
        migrations.AlterField(
            model_name='checkoutline',
            name='edition',
            field=models.ForeignKey(db_index=False, on_delete=django.db.models.deletion.PROTECT, to='links.edition'),
        ),
        migrations.AlterField(
            model_name='checkoutline',
            name='link',
            field=models.ForeignKey(db_index=False, on_delete=django.db.models.deletion.PROTECT, to='links.link'),
        ),
        migrations.AlterField(
            model_name='checkoutline',
            name='spot',
            field=models.ForeignKey(db_index=False, on_delete=django.db.models.deletion.PROTECT, to='links.spot'),
        ),
    ]
