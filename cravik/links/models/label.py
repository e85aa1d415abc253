"""The words by which a seller sorts links."""

from __future__ import annotations

from django.db import models

from cravik.links.models.link import Link


class LinkLabel(models.Model):
    """One of the labels of a link's draft, kept beside it so that links are found by it."""

    link = models.ForeignKey(Link, on_delete=models.CASCADE, related_name="label_rows")
    label = models.CharField(max_length=40)

    class Meta:
        ordering = ["id"]
        constraints = [models.UniqueConstraint(fields=["link", "label"], name="link_label_once")]
        indexes = [models.Index(fields=["label", "link"], name="link_label")]
