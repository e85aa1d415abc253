"""Visits of before say which edition they saw, by when it was published, and by which discount code they paid."""

from django.db import migrations

_SEEN = """
UPDATE journal_visit SET edition_id = (
    SELECT id FROM links_edition
    WHERE links_edition.link_id = journal_visit.link_id AND number IS NOT NULL AND published_at <= opened_at
    ORDER BY published_at DESC LIMIT 1
) WHERE edition_id IS NULL
"""
_WITH_CODE = """
UPDATE journal_visit SET code_id = line.code_id
FROM checkout_checkoutline line JOIN checkout_checkout checkout ON checkout.id = line.checkout_id
WHERE checkout.visit_id = journal_visit.id AND line.code_id IS NOT NULL AND rung >= 3
"""


class Migration(migrations.Migration):
    dependencies = [
        ("orders", "0004_moneysum"),
        ("journal", "0005_sums"),
        ("links", "0010_findable"),
        ("checkout", "0004_left_out"),
    ]
    operations = [
        migrations.RunSQL(_SEEN, migrations.RunSQL.noop),
        migrations.RunSQL(_WITH_CODE, migrations.RunSQL.noop),
    ]
