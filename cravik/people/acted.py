"""Rows that say who wanted them."""

from __future__ import annotations

from typing import cast

from django.db import models

from cravik.people.actors import Actor, ActorKind


class ActedBy(models.Model):
    """Who began something that ends later, as its events have it."""

    by = models.CharField(max_length=7)
    by_name = models.CharField(max_length=254, blank=True)
    user = models.ForeignKey("setup.User", null=True, on_delete=models.SET_NULL, db_index=False, related_name="+")

    class Meta:
        abstract = True

    @property
    def actor(self) -> Actor:
        return Actor(cast(ActorKind, self.by), self.by_name, self.user_id)
