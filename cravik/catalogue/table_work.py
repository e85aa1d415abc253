"""Checking and writing a table that was brought in: at once where it is short, else by the worker."""

from __future__ import annotations

import structlog
from django.utils import timezone
from django_tasks import task

from cravik.catalogue.models import TableUpload
from cravik.catalogue.table_import import FaultsLeft, NoLongerWanted, import_table, plan_for, summary_of
from cravik.upkeep.progress import Progress, progress_of, tell_progress
from cravik.upkeep.queue import enqueue_once

#: A table of so many rows is done while its page waits: in well under a second.
SHORT = 200
State = TableUpload.State

logger = structlog.stdlib.get_logger("cravik.catalogue")


def start_import(upload: TableUpload) -> None:
    """Let the next step of a busy upload be done."""
    if len(upload.rows) <= SHORT:
        do_next_step(upload)
    else:
        tell_progress(_work(upload), 0, len(upload.rows))
        enqueue_once(import_waiting_tables)


@task()
def import_waiting_tables() -> int:
    """Do the next step of every table that waits for one. Safe to run at any time, twice, or when cut off."""
    busy = list(TableUpload.objects.filter(state__in=TableUpload.BUSY).select_related("business").order_by("id"))
    for upload in busy:
        do_next_step(upload)
    return len(busy)


def do_next_step(upload: TableUpload) -> None:
    """Check the table, or write it. Whatever goes wrong is said on its page, and nothing is written then."""
    step, rows = upload.state, len(upload.rows)
    passes = 2 if step == State.WRITING else 1

    def tell(done: int) -> None:
        tell_progress(_work(upload), done, passes * rows)

    try:
        if step == State.CHECKING:
            _end(step, upload, State.READY, summary_of(plan_for(upload, tell)))
        elif step == State.WRITING:
            import_table(upload, timezone.now(), good_rows_only=upload.good_rows_only, tell=tell)
    except NoLongerWanted:
        return
    except FaultsLeft:  # the catalogue has changed since it was checked
        _end(step, upload, State.READY, summary_of(plan_for(upload)) | {"changed_since": True})
    except Exception:
        logger.exception("a table could not be brought in", upload=upload.pk)
        _end(step, upload, State.FAILED, {})


def _end(step: str, upload: TableUpload, state: str, summary: dict[str, object]) -> None:
    """Note how the step ended, unless another process has ended it or the table was forgotten."""
    TableUpload.objects.filter(id=upload.pk, state=step).update(state=state, summary=summary)
    upload.state, upload.summary = state, summary


def progress_of_table(upload: TableUpload) -> Progress:
    return progress_of(_work(upload))


def _work(upload: TableUpload) -> str:
    return f"table-{upload.pk}"
