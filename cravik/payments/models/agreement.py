"""What buyers agreed will be taken later, and the means that were kept for it."""

from __future__ import annotations

from django.db import models
from django.db.models import Q

from cravik.core.pricing.money import Money
from cravik.payments.models.attempt import Attempt


class KeptCard(models.Model):
    """A card that may be charged later, by the gateway's token for it. Its number is the gateway's alone."""

    business = models.ForeignKey("setup.Business", on_delete=models.PROTECT)
    #: The try with which its buyer handed it over.
    kept_by = models.OneToOneField(Attempt, on_delete=models.PROTECT, related_name="kept_card")
    token = models.CharField(max_length=64, unique=True)
    ending = models.CharField(max_length=4)
    kept_at = models.DateTimeField()


class Agreement(models.Model):
    """What a buyer agreed to when they pressed the button: the ``words`` that stood on the page, the ``plan`` (as
    documents write it) from which day, what a payment comes to once it runs, what it is in all and until when (both
    none where it has no end), and the card that was kept for it.

    An agreement without a plan keeps the card for what buyer and seller agree on later.
    """

    class State(models.TextChoices):
        #: Nothing was paid or kept yet.
        OFFERED = "offered"
        RUNNING = "running"
        ENDED = "ended"

    checkout = models.OneToOneField("checkout.Checkout", on_delete=models.PROTECT, related_name="agreement")
    state = models.CharField(max_length=7, choices=State.choices, default=State.OFFERED)
    words = models.CharField(max_length=500)
    plan = models.JSONField(null=True)
    begins_on = models.DateField()
    until = models.DateField(null=True)
    each_minor = models.PositiveBigIntegerField()
    #: What each of the first payments comes to, where they have prices of their own.
    at_first_minor = models.PositiveBigIntegerField(null=True)
    in_all_minor = models.PositiveBigIntegerField(null=True)
    currency = models.CharField(max_length=3)
    kept_card = models.ForeignKey(KeptCard, null=True, on_delete=models.PROTECT, related_name="agreements")
    agreed_at = models.DateTimeField()
    ended_at = models.DateTimeField(null=True)

    class Meta:
        constraints = [
            models.CheckConstraint(
                condition=Q(state="ended", ended_at__isnull=False) | (~Q(state="ended") & Q(ended_at__isnull=True)),
                name="agreement_end_has_instant",
            ),
        ]

    @property
    def each(self) -> Money:
        return Money(self.each_minor, self.currency)
