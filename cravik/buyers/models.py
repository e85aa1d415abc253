"""One row for each buyer of a business."""

from __future__ import annotations

from django.db import models


class Buyer(models.Model):
    """Somebody who ordered at a business. Made with their first order; rehearsals make none.

    ``key`` is the e-mail address as ``buyer_key`` folds it. Name and address are those of the last order, as they were
    typed; each order keeps its own.
    """

    business = models.ForeignKey("setup.Business", on_delete=models.PROTECT, db_index=False)  # the key's begins with it
    key = models.CharField(max_length=254)
    email = models.EmailField()
    name = models.CharField(max_length=200)
    made_at = models.DateTimeField()

    class Meta:
        constraints = [models.UniqueConstraint(fields=["business", "key"], name="buyer_once")]

    def __str__(self) -> str:
        return f"{self.name} <{self.email}>"
