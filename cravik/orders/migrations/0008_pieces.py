"""Counts the pieces of each line that were sold before pieces were counted, and those that are being paid."""

from collections import Counter
from typing import Any

from django.db import migrations


def count_pieces(apps: Any, schema_editor: Any) -> None:
    orders, holds = apps.get_model("orders", "Order").objects, apps.get_model("payments", "Hold").objects
    lines = apps.get_model("checkout", "CheckoutLine").objects
    paid, held = Counter[tuple[int, str]](), Counter[tuple[int, str]]()
    sold = orders.filter(rehearsal=False).order_by().values_list("checkout__lines__link", "checkout__lines__quote_document")
    for link, document in sold.iterator():
        for line in document["lines"]:
            paid[link, line["key"]] += line["quantity"]
    for hold in holds.filter(kind="order", state="held"):
        pieces = Counter[str]()
        for document in lines.filter(checkout_id=hold.checkout_id, link_id=hold.link_id).values_list("quote_document", flat=True):
            for line in document["lines"]:
                pieces[line["key"]] += line["quantity"]
        holds.filter(pk=hold.pk).update(pieces=dict(pieces))
        held.update({(hold.link_id, line): number for line, number in pieces.items()})
    rows = apps.get_model("links", "LinePieces")
    rows.objects.bulk_create(
        (rows(link_id=link, line=line, paid=paid[link, line], held=held[link, line]) for link, line in {**paid, **held}),
        batch_size=500,
    )


class Migration(migrations.Migration):
    dependencies = [
        ("orders", "0007_buyer_keys"),
        ("links", "0014_pieces"),
        ("payments", "0005_pieces"),
        ("checkout", "0005_network"),
    ]

    operations = [migrations.RunPython(count_pieces, migrations.RunPython.noop)]
