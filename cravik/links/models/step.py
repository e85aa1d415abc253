"""What can be undone on a bench."""

from __future__ import annotations

from django.db import models

from cravik.links.models.link import Link
from cravik.people.acted import ActedBy


class DraftStep(ActedBy):
    """A change of a link's draft that can be undone, or, once it is ``undone``, done again.

    ``before`` and ``after`` are the draft and the former prices as they were then. ``revision`` is the link's at which
    the steps stand: where the link has another one, something else changed it since, and they are forgotten.
    """

    link = models.ForeignKey(Link, on_delete=models.CASCADE, related_name="steps")
    #: What was done, each ``{"code", "fields"}``, such as ``part_changed`` with the part and the thing whose it is.
    done = models.JSONField()
    before = models.JSONField()
    after = models.JSONField()
    undone = models.BooleanField(default=False)
    revision = models.PositiveIntegerField()
    made_at = models.DateTimeField()

    class Meta:
        ordering = ["id"]
        indexes = [models.Index(fields=["made_at"], name="draft_step_old")]
