"""What a step did to a draft, as data instead of a sentence."""

from django.db import migrations, models


def from_words(apps, schema_editor):
    """Steps are kept for a day: those of before keep what they were called."""
    steps = apps.get_model("links", "DraftStep").objects
    for pk, words in steps.values_list("pk", "words"):
        steps.filter(pk=pk).update(done=[{"code": "as_called", "fields": {"words": words}}])


class Migration(migrations.Migration):
    dependencies = [("links", "0017_who_changed_a_draft")]

    operations = [
        migrations.AddField(
            model_name="draftstep", name="done", field=models.JSONField(default=list), preserve_default=False
        ),
        migrations.RunPython(from_words, migrations.RunPython.noop),
        migrations.RemoveField(model_name="draftstep", name="words"),
    ]
