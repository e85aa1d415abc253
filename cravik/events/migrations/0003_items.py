"""Events of items."""


from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('events', '0002_fewer_indexes'),
        ('setup', '0006_ways_to_pay'),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.RemoveConstraint(
            model_name='event',
            name='event_is_about_something',
        ),
        migrations.AddField(
            model_name='event',
            name='item_id',
            field=models.PositiveBigIntegerField(null=True),
        ),
        migrations.AddConstraint(
            model_name='event',
            constraint=models.CheckConstraint(condition=models.Q(('order_id__isnull', False), ('link_id__isnull', False), ('spot_id__isnull', False), ('buyer_id__isnull', False), ('item_id__isnull', False), models.Q(('setting', ''), _negated=True), _connector='OR'), name='event_is_about_something'),
        ),
    ]
