from typing import Any

from django.db import migrations


def say_it_without_a_time(apps: Any, schema_editor: Any) -> None:
    """How long an answer is waited for is a setting."""
    cards = apps.get_model("counter", "CounterCard").objects.filter(conduct="never")
    cards.update(label="Never answers: called off in the end")


class Migration(migrations.Migration):
    dependencies = [("counter", "0002_further_checks")]
    operations = [migrations.RunPython(say_it_without_a_time, migrations.RunPython.noop)]
