"""What the installation counts of whoever tries something again and again."""

from __future__ import annotations

from django.db import models


class Tries(models.Model):
    """How often one thing was tried since a window of time began; see ``cravik.upkeep.tries``."""

    #: A keyed hash of what is tried and by whom: nobody's address stands here.
    key = models.CharField(max_length=64, unique=True)
    taken = models.PositiveIntegerField()
    #: When the window ends. Trying on does not move it.
    until = models.DateTimeField(db_index=True)
