"""Which lines of orders are made."""

import django.db.models.deletion
from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('orders', '0014_stages_and_parcels'),
    ]

    operations = [
        migrations.CreateModel(
            name='TickedLine',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('line', models.CharField(max_length=60)),
                ('at', models.DateTimeField()),
                ('order', models.ForeignKey(db_index=False, on_delete=django.db.models.deletion.CASCADE, related_name='ticked_lines', to='orders.order')),
            ],
            options={
                'constraints': [models.UniqueConstraint(fields=('order', 'line'), name='ticked_line_once')],
            },
        ),
    ]
