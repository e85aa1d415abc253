"""What an order owes, the attempts at paying it, the money that moved, and what is held meanwhile."""

from __future__ import annotations

from django.db import models
from django.db.models import Q

from cravik.core.pricing.money import Money


class Due(models.Model):
    """One sum of a checkout, with the day on which it is to be paid. The first is paid by the buyer's press."""

    class State(models.TextChoices):
        OPEN = "open"
        PAID = "paid"

    checkout = models.ForeignKey("checkout.Checkout", on_delete=models.PROTECT, related_name="dues")
    position = models.PositiveSmallIntegerField()
    on = models.DateField()
    amount_minor = models.PositiveBigIntegerField()
    currency = models.CharField(max_length=3)
    state = models.CharField(max_length=4, choices=State.choices, default=State.OPEN)
    paid_at = models.DateTimeField(null=True)

    class Meta:
        ordering = ["position"]
        constraints = [
            models.UniqueConstraint(fields=["checkout", "position"], name="due_once"),
            models.CheckConstraint(
                condition=Q(state="paid", paid_at__isnull=False) | Q(state="open", paid_at__isnull=True),
                name="due_paid_has_instant",
            ),
        ]

    @property
    def amount(self) -> Money:
        return Money(self.amount_minor, self.currency)


class Attempt(models.Model):
    """One try at charging a card for one due, recorded before the gateway is called and again after.

    ``key`` is the idempotency key that the gateway is called with. A due has at most one attempt that is pending or
    approved: the database itself refuses a second charge.
    """

    class State(models.TextChoices):
        PENDING = "pending"
        APPROVED = "approved"
        DECLINED = "declined"
        #: The gateway never took it, and has promised never to.
        VOID = "void"

    #: The reason of one that was void because nobody decided, or the buyer did not want to wait.
    CALLED_OFF = "called_off"
    #: States in which a due takes no further attempt.
    OPEN_STATES = (State.PENDING, State.APPROVED)

    due = models.ForeignKey(Due, on_delete=models.PROTECT, related_name="attempts")
    key = models.CharField(max_length=64, unique=True)
    state = models.CharField(max_length=8, choices=State.choices, default=State.PENDING)
    reason = models.CharField(max_length=32, blank=True)
    gateway_reference = models.CharField(max_length=40, blank=True)
    card_ending = models.CharField(max_length=4)
    amount_minor = models.PositiveBigIntegerField()
    currency = models.CharField(max_length=3)
    #: Where the card's bank asks the buyer, where it does.
    check_address = models.CharField(max_length=500, blank=True)
    #: When the gateway was asked and did not decide, so that it waits for an answer.
    left_open_at = models.DateTimeField(null=True)
    #: How much of it was given back, or is about to be.
    refunded_minor = models.PositiveBigIntegerField(default=0)
    begun_at = models.DateTimeField()
    answered_at = models.DateTimeField(null=True)

    class Meta:
        constraints = [
            models.CheckConstraint(
                condition=Q(refunded_minor=0) | Q(state="approved", refunded_minor__lte=models.F("amount_minor")),
                name="attempt_refunded_within",
            ),
            models.UniqueConstraint(
                fields=["due"], condition=Q(state__in=["pending", "approved"]), name="attempt_one_open"
            ),
            models.CheckConstraint(
                condition=Q(state="pending", answered_at__isnull=True)
                | (~Q(state="pending") & Q(answered_at__isnull=False)),
                name="attempt_answer_has_instant",
            ),
        ]
        indexes = [models.Index(fields=["begun_at"], condition=Q(state="pending"), name="attempt_pending")]

    @property
    def amount(self) -> Money:
        return Money(self.amount_minor, self.currency)

    @property
    def is_checked(self) -> bool:
        """Whether the card's bank is still asking the buyer."""
        return self.state == self.State.PENDING and bool(self.check_address)


class Refund(models.Model):
    """Giving back a sum of one charge, recorded before the gateway is asked and again after.

    ``key`` is the idempotency key that the gateway is asked with, however often. What is asked for is taken from what
    is left of the charge at once (``Attempt.refunded_minor``), so that all refunds of a charge come to no more than it.
    """

    class State(models.TextChoices):
        PENDING = "pending"
        DONE = "done"
        #: The gateway said that it never will; ``reason`` says why.
        REFUSED = "refused"

    charge = models.ForeignKey(Attempt, on_delete=models.PROTECT, related_name="refunds")
    key = models.CharField(max_length=64, unique=True)
    state = models.CharField(max_length=7, choices=State.choices, default=State.PENDING)
    reason = models.CharField(max_length=32, blank=True)
    amount_minor = models.PositiveBigIntegerField()
    currency = models.CharField(max_length=3)
    gateway_reference = models.CharField(max_length=40, blank=True)
    #: Who wants it, as the events have it.
    by = models.CharField(max_length=7)
    by_name = models.CharField(max_length=254, blank=True)
    user = models.ForeignKey("setup.User", null=True, on_delete=models.SET_NULL)
    begun_at = models.DateTimeField()
    answered_at = models.DateTimeField(null=True)

    class Meta:
        ordering = ["id"]
        constraints = [
            models.CheckConstraint(
                condition=Q(state="pending", answered_at__isnull=True)
                | (~Q(state="pending") & Q(answered_at__isnull=False)),
                name="refund_answer_has_instant",
            ),
            models.CheckConstraint(condition=Q(amount_minor__gt=0), name="refund_above_zero"),
        ]
        indexes = [models.Index(fields=["begun_at"], condition=Q(state="pending"), name="refund_pending")]

    @property
    def amount(self) -> Money:
        return Money(self.amount_minor, self.currency)


class Movement(models.Model):
    """Money that moved: a line of the ledger. What a link, an order or a day took is the sum of its lines.

    A charge is above zero; a refund is below, and names the charge that it undoes. Business, link and spot are those of
    the checkout, so that sums need no other table. Written once and never changed.
    """

    class Kind(models.TextChoices):
        CHARGE = "charge"
        REFUND = "refund"

    checkout = models.ForeignKey("checkout.Checkout", on_delete=models.PROTECT, related_name="movements")
    attempt = models.OneToOneField(Attempt, null=True, on_delete=models.PROTECT, related_name="movement")
    refund = models.OneToOneField(Refund, null=True, on_delete=models.PROTECT, related_name="movement")
    undoes = models.ForeignKey("self", null=True, on_delete=models.PROTECT, related_name="undone_by", db_index=False)
    kind = models.CharField(max_length=6, choices=Kind.choices)
    amount_minor = models.BigIntegerField()
    currency = models.CharField(max_length=3)
    gateway_reference = models.CharField(max_length=40)
    rehearsal = models.BooleanField()
    business = models.ForeignKey("setup.Business", on_delete=models.PROTECT)
    link = models.ForeignKey("links.Link", on_delete=models.PROTECT)
    spot = models.ForeignKey("links.Spot", on_delete=models.PROTECT)
    at = models.DateTimeField()

    class Meta:
        constraints = [
            models.CheckConstraint(
                condition=Q(
                    kind="charge", amount_minor__gt=0, attempt__isnull=False, refund__isnull=True, undoes__isnull=True
                )
                | Q(
                    kind="refund", amount_minor__lt=0, attempt__isnull=True, refund__isnull=False, undoes__isnull=False
                ),
                name="movement_has_its_sign",
            ),
        ]
        indexes = [
            # Covers money by link over a period.
            models.Index(
                fields=["business", "at", "link", "spot", "currency", "amount_minor"],
                condition=Q(rehearsal=False),
                name="movement_money",
            ),
        ]

    @property
    def amount(self) -> Money:
        return Money(self.amount_minor, self.currency)


class Hold(models.Model):
    """Something scarce that is reserved for a buyer who is paying, until it is theirs or released.

    Reserved in the transaction that records the attempt; confirmed in the one that makes the order; released in the
    one that records a decline, or by the reconciler. What is held is counted where it lies (stock at its variant,
    orders, pieces and uses of codes in the link's tallies); the row says for whom, how many and until when, and its
    state makes sure that nothing is released twice.
    """

    class Kind(models.TextChoices):
        #: One order of the link with its pieces: places of a limited link, and steps of a price that counts them.
        ORDER = "order"
        STOCK = "stock"
        CODE_USE = "code_use", "a use of a discount code"
        ACCESS_CODE = "access", "an access code"

    class State(models.TextChoices):
        HELD = "held"
        CONFIRMED = "confirmed", "the buyer's"
        RELEASED = "released"

    checkout = models.ForeignKey("checkout.Checkout", on_delete=models.PROTECT, related_name="holds")
    kind = models.CharField(max_length=8, choices=Kind.choices)
    state = models.CharField(max_length=9, choices=State.choices, default=State.HELD)
    quantity = models.PositiveIntegerField(default=1)
    #: Of an order: how many pieces of each line, by its key.
    pieces = models.JSONField(default=dict)
    link = models.ForeignKey("links.Link", null=True, on_delete=models.PROTECT, related_name="+")
    code = models.ForeignKey("links.LinkCode", null=True, on_delete=models.PROTECT, related_name="+")
    variant = models.ForeignKey("catalogue.Variant", null=True, on_delete=models.SET_NULL, related_name="+")
    access_code = models.ForeignKey("catalogue.AccessCode", null=True, on_delete=models.SET_NULL, related_name="+")
    until = models.DateTimeField()

    class Meta:
        ordering = ["id"]
        constraints = [
            models.CheckConstraint(
                condition=Q(kind="order", link__isnull=False, code__isnull=True)
                | Q(kind="code_use", code__isnull=False, link__isnull=True)
                | Q(kind__in=["stock", "access"], link__isnull=True, code__isnull=True),
                name="hold_of_one_thing",
            ),
        ]
        indexes = [models.Index(fields=["until"], condition=Q(state="held"), name="hold_lapses")]
