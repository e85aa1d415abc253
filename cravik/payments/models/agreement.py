"""What buyers agreed will be taken later, and the means that were kept for it."""

from __future__ import annotations

from django.db import models
from django.db.models import Q

from cravik.core.link.running import RunningRules
from cravik.core.pricing.money import Money
from cravik.payments.models.attempt import Attempt
from cravik.setup.running import read_rules


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
        #: Nothing is collected: its buyer or seller wanted it so, or a due could not be collected.
        PAUSED = "paused"
        ENDED = "ended"

    class Why(models.TextChoices):
        """Who or what paused or ended it."""

        COMPLETED = "completed", "all of it was paid"
        BUYER = "buyer", "by the buyer"
        SELLER = "seller", "by you"
        DECLINED = "declined", "a payment could not be taken"

    checkout = models.OneToOneField("checkout.Checkout", on_delete=models.PROTECT, related_name="agreement")
    state = models.CharField(max_length=7, choices=State.choices, default=State.OFFERED)
    business = models.ForeignKey("setup.Business", on_delete=models.PROTECT, db_index=False)
    rehearsal = models.BooleanField()
    words = models.CharField(max_length=1000)
    #: What held of collecting and stopping: ``core.link.running.RunningRules``, as JSON.
    rules = models.JSONField(default=dict)
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
    #: Why it is paused, or ended; and the answer of a buyer who was asked why they stop.
    why = models.CharField(max_length=9, choices=Why.choices, blank=True, default="")
    stop_words = models.CharField(max_length=300, blank=True, default="")
    #: When it was paused, and goes on by itself; none where somebody has to say so.
    paused_at = models.DateTimeField(null=True)
    resumes_on = models.DateField(null=True)
    #: The last day of what was paid, where it was stopped: it ends after it.
    ends_on = models.DateField(null=True)
    #: Of a rehearsal: by how many days its clock was moved on.
    ahead_days = models.PositiveIntegerField(default=0)

    class Meta:
        constraints = [
            models.CheckConstraint(
                condition=Q(state="ended", ended_at__isnull=False) | (~Q(state="ended") & Q(ended_at__isnull=True)),
                name="agreement_end_has_instant",
            ),
            models.CheckConstraint(
                condition=Q(state="paused", paused_at__isnull=False) | (~Q(state="paused") & Q(paused_at__isnull=True)),
                name="agreement_pause_has_instant",
            ),
        ]
        indexes = [
            models.Index(
                fields=["business", "state", "-agreed_at"], condition=Q(rehearsal=False), name="agreement_running"
            ),
            models.Index(fields=["ends_on"], condition=Q(ends_on__isnull=False), name="agreement_ends"),
            models.Index(fields=["resumes_on"], condition=Q(resumes_on__isnull=False), name="agreement_resumes"),
        ]

    @property
    def agreed_rules(self) -> RunningRules:
        """What held of collecting and stopping when it was agreed to."""
        return read_rules(self.rules)

    @property
    def repeats(self) -> bool:
        """Whether it is paid again and again, so that it can be stopped and skipped."""
        return self.plan is not None and self.plan["kind"] == "repeat"

    @property
    def each(self) -> Money:
        return Money(self.each_minor, self.currency)
