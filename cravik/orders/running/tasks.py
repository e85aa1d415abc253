"""Timed work of what is paid over time."""

from __future__ import annotations

from datetime import timedelta

from django.utils import timezone
from django_tasks import task

from cravik.orders.letter_tasks import write_due_letters
from cravik.orders.running.due_now import end_and_resume, take_what_is_due, tell_what_comes
from cravik.payments.ways import present_ways
from cravik.upkeep.queue import enqueue_once

#: How long one run takes at most, so that letters and other work have their turn.
_AT_MOST = timedelta(seconds=20)


@task()
def collect_what_is_due() -> int:
    """Take what is due on its seller's day, tell of what comes, end and resume; returns how many dues were asked
    for. What a run leaves is the next one's, which follows at once."""
    now = timezone.now()
    end_and_resume(now)
    done = take_what_is_due(present_ways(), timezone.now, now + _AT_MOST)
    told = tell_what_comes(timezone.now())
    if done.total or told:
        enqueue_once(write_due_letters)
    if done.is_cut_short and done.charged:
        enqueue_once(collect_what_is_due)
    return done.total
