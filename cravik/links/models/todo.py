"""What a seller still has to do on a link: notes that stand on its bench until they are done or dismissed."""

from __future__ import annotations

from django.db import models

from cravik.links.models.link import Link

MAX_NOTE_LENGTH = 200


class Todo(models.Model):
    """A note of one link. It changes nothing that buyers see, and is in no document."""

    link = models.ForeignKey(Link, on_delete=models.CASCADE, related_name="todos")
    text = models.CharField(max_length=MAX_NOTE_LENGTH)
    made_at = models.DateTimeField()

    class Meta:
        ordering = ["id"]
