"""Tells the buyers of before by the same keys as those of now: without what follows a plus, and without quotes."""

import re
from typing import Any

from django.db import migrations
from django.db.models import Q


def _key(email: str) -> str:
    local, at, host = email.strip().casefold().rpartition("@")
    if len(local) > 2 and local.startswith('"') and local.endswith('"'):
        local = re.sub(r"\\(.)", r"\1", local[1:-1])
    return f"{local.partition('+')[0] or local}{at}{host}"[:254]


def write_keys(apps: Any, schema_editor: Any) -> None:
    for app, name in (("orders", "Order"), ("checkout", "Checkout")):
        rows = apps.get_model(app, name).objects.filter(Q(buyer_key__contains="+") | Q(buyer_key__startswith='"'))
        for pk, email in rows.values_list("pk", "buyer_email").iterator():
            apps.get_model(app, name).objects.filter(pk=pk).update(buyer_key=_key(email))


class Migration(migrations.Migration):
    dependencies = [("orders", "0006_sums_by_day"), ("checkout", "0005_network")]

    operations = [migrations.RunPython(write_keys, migrations.RunPython.noop)]
