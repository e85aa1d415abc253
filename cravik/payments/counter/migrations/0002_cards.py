"""The counter's made-up cards. First digit 9, Luhn-valid, and nobody's."""

from django.db import migrations

from cravik.core.luhn import with_check_digit

_CARDS = [
    ("900000000000001", "approve", "", "Approves"),
    ("900000000000011", "approve", "", "Approves too, for a second buyer"),
    ("900000000000101", "decline", "insufficient_funds", "Declines: not enough money on it"),
    ("900000000000102", "decline", "refused_by_bank", "Declines: the bank refuses, and gives no reason"),
    ("900000000000103", "decline", "expired_card", "Declines: it has expired"),
    ("900000000000104", "decline", "wrong_security_code", "Declines: the security code is wrong"),
    ("900000000000105", "decline", "limit_reached", "Declines: the day's limit is reached"),
    ("900000000000201", "dawdle", "", "Approves after 4 seconds"),
    ("900000000000202", "fall_silent", "", "Approves, but the answer gets lost; settled within 2 minutes"),
]


def add_cards(apps, schema_editor):
    apps.get_model("counter", "CounterCard").objects.bulk_create(
        apps.get_model("counter", "CounterCard")(
            number=with_check_digit(digits), conduct=conduct, reason=reason, label=label, position=position
        )
        for position, (digits, conduct, reason, label) in enumerate(_CARDS, 1)
    )


def remove_cards(apps, schema_editor):
    apps.get_model("counter", "CounterCard").objects.all().delete()


class Migration(migrations.Migration):
    dependencies = [("counter", "0001_initial")]
    operations = [migrations.RunPython(add_cards, remove_cards)]
