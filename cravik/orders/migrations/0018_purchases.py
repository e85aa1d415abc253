"""The way into a buyer's purchases."""

import django.db.models.deletion
from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('buyers', '0002_fewer_indexes'),
        ('orders', '0017_documents'),
    ]

    operations = [
        migrations.CreateModel(
            name='PurchasesKey',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('digest', models.CharField(max_length=64, unique=True)),
                ('made_at', models.DateTimeField()),
                ('used_at', models.DateTimeField(null=True)),
                ('buyer', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='+', to='buyers.buyer')),
            ],
        ),
    ]
