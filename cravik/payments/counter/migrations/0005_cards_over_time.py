"""Cards that are kept, and then are declined, ask first or are replaced when they are charged later."""

from django.db import migrations, models
from stdnum import luhn

_CARDS = [
    ("900000000000401", "fail_later", "insufficient_funds", "Approves now; charged later it has not enough money"),
    ("900000000000402", "fail_later", "refused_by_bank", "Approves now; charged later its bank refuses it for good"),
    ("900000000000403", "check_later", "", "Approves now; charged later its bank asks first"),
    ("900000000000404", "replaced", "", "Approves now; charged later its bank has replaced it, and the new one is charged"),
]


def add_cards(apps, schema_editor):
    apps.get_model("counter", "CounterCard").objects.bulk_create(
        apps.get_model("counter", "CounterCard")(
            number=digits + luhn.calc_check_digit(digits),
            conduct=conduct,
            reason=reason,
            label=label,
            position=position,
        )
        for position, (digits, conduct, reason, label) in enumerate(_CARDS, 40)
    )


def remove_cards(apps, schema_editor):
    cards = apps.get_model("counter", "CounterCard").objects
    cards.filter(conduct__in=[conduct for _, conduct, _, _ in _CARDS]).delete()


class Migration(migrations.Migration):

    dependencies = [
        ('counter', '0004_kept_cards'),
    ]

    operations = [
        migrations.AlterField(
            model_name='countercard',
            name='conduct',
            field=models.CharField(choices=[('approve', 'Approve'), ('decline', 'Decline'), ('dawdle', 'Dawdle'), ('fall_silent', 'Fall Silent'), ('check', 'Check'), ('late', 'Late'), ('never', 'Never'), ('twice', 'Twice'), ('fail_later', 'Fail Later'), ('check_later', 'Check Later'), ('replaced', 'Replaced')], max_length=12),
        ),
        migrations.RunPython(add_cards, remove_cards),
    ]
