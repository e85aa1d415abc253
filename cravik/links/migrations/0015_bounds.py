"""Writes down how much there may be of what is counted, as what is published says."""

from typing import Any

import django.db.models.expressions
from django.db import migrations, models


def note_bounds(apps: Any, schema_editor: Any) -> None:
    links, tallies = apps.get_model("links", "Link").objects, apps.get_model("links", "LinkTally").objects
    codes = apps.get_model("links", "LinkCode").objects
    published = links.filter(edition__isnull=False).values_list("id", "edition__effective__link")
    for link, document in published.iterator(chunk_size=100):
        if orders := document.get("limits", {}).get("orders"):
            tallies.filter(link_id=link).update(most=orders)
        for code, rule in document.get("code_rules", {}).items():
            if uses := rule.get("uses"):
                codes.filter(link_id=link, normal=code.strip().casefold()).update(most=uses)


class Migration(migrations.Migration):

    dependencies = [
        ('links', '0014_pieces'),
    ]

    operations = [
        migrations.AddField(
            model_name='linepieces',
            name='most',
            field=models.PositiveBigIntegerField(null=True),
        ),
        migrations.AddField(
            model_name='linkcode',
            name='most',
            field=models.PositiveIntegerField(null=True),
        ),
        migrations.AddField(
            model_name='linktally',
            name='most',
            field=models.PositiveIntegerField(null=True),
        ),
        migrations.AddConstraint(
            model_name='linepieces',
            constraint=models.CheckConstraint(condition=models.Q(('most__isnull', True), ('paid__lte', django.db.models.expressions.CombinedExpression(models.F('most'), '-', models.F('held'))), _connector='OR'), name='link_pieces_within_bound'),
        ),
        migrations.RunPython(note_bounds, migrations.RunPython.noop),
    ]
