"""What a seller decided once for all links."""

from __future__ import annotations

from django.db import models


class Default(models.Model):
    """A seller's decision on one subject; no row: nothing was decided.

    ``revision`` counts the saves, so that a second tab notices.
    """

    class Subject(models.TextChoices):
        FEE = "fee", "the processor's fee"
        TAX = "tax"
        DELIVERY = "delivery"
        #: Held as looks and terms, not as rows here: several may be kept, and one is the default.
        LOOK = "look"
        TERMS = "conditions"  # as it has been stored since the first version
        #: Held by the business itself.
        CONTACT = "contact"

    business = models.ForeignKey("setup.Business", on_delete=models.CASCADE, related_name="defaults")
    subject = models.CharField(max_length=16, choices=Subject.choices)
    document = models.JSONField()
    revision = models.PositiveIntegerField(default=1)
    changed_at = models.DateTimeField()

    class Meta:
        constraints = [models.UniqueConstraint(fields=["business", "subject"], name="default_once")]
