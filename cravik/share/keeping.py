"""Keeping a design over the one that was seen, so that a second tab is told."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from django.db import transaction
from django.db.models import Model

from cravik.setup.saving import ChangedElsewhere


@transaction.atomic
def keep_over(model: type[Model], of: Mapping[str, Any], seen_revision: int, **values: Any) -> None:
    """Write ``values`` into the row of ``of``, or a new one, and count its ``revision`` up. Raises ``ChangedElsewhere``
    where it is another than the one that was seen; 0 is that of none."""
    rows: Any = model._default_manager
    kept = rows.select_for_update().filter(**of).first()
    if (kept.revision if kept else 0) != seen_revision:
        raise ChangedElsewhere
    row: Any = kept or model(**of, revision=0)
    for name, value in values.items():
        setattr(row, name, value)
    row.revision += 1
    row.save()
