"""The counter behind the gateway port: decides by its own tables, and keeps its own log."""

from __future__ import annotations

import secrets
import time
from datetime import datetime, timedelta
from typing import NamedTuple

from django.db import transaction
from django.db.models import Sum
from django.urls import reverse
from django.utils import timezone

from cravik.core.pricing.money import Money
from cravik.payments.counter.deciding import approve_what_is_due, tell
from cravik.payments.counter.models import (
    CounterCard,
    CounterCharge,
    CounterEntry,
    CounterKept,
    CounterNotice,
    CounterRefund,
)
from cravik.payments.gateway import (
    Answer,
    AnswerLost,
    Approved,
    Card,
    Charge,
    CheckWanted,
    Decided,
    Declined,
    DeclineReason,
    KeyReused,
    NeverCharged,
    NothingToRefund,
    Notice,
    Refund,
    Refunded,
    Token,
    Undecided,
)
from cravik.upkeep.prepared import Param, PreparedSelect, insert
from cravik.upkeep.references import new_reference

_DAWDLE_SECONDS = 4.0
#: When a bank that answers late does.
LATE_BY = timedelta(seconds=20)
_CALLED_OFF = "called_off"
_NO_CARD = Card("0000", (1, 9999), "")
#: What a bank sends in the place of a card that it replaced.
_REPLACEMENT = Card("9000000000000118", (12, 2099), "")
_OPENS = frozenset({CounterCard.Conduct.CHECK, CounterCard.Conduct.LATE, CounterCard.Conduct.NEVER})

Conduct = CounterCard.Conduct
Outcome = CounterCharge.Outcome


class _KnownCard(NamedTuple):
    """What a made-up card does, and why it declines if it does."""

    conduct: str
    reason: str


_CARD = PreparedSelect(lambda: CounterCard.objects.filter(number=Param("number")).values_list("conduct", "reason"))
_KNOWN = PreparedSelect(lambda: CounterCharge.objects.filter(key=Param("key")).values_list("id"))


class CounterGateway:
    """The simulated processor. Its clock and its patience can be replaced, for tests."""

    is_simulated = True

    def __init__(self, dawdle_seconds: float = _DAWDLE_SECONDS) -> None:
        self.dawdle_seconds = dawdle_seconds

    def charge(self, charge: Charge) -> Approved | Declined | CheckWanted | Undecided:
        used = _kept_card(charge) if isinstance(charge.card, Token) else charge.card
        row = _CARD.first(number=used.number)
        card = _KnownCard(*row) if row else None
        if card and card.conduct == Conduct.DAWDLE:
            time.sleep(self.dawdle_seconds)
        now = charge.at if charge.rehearsal and charge.at else timezone.now()
        decided = self._decide(charge, used, card, now)
        if card and card.conduct == Conduct.FALL_SILENT:
            raise AnswerLost(f"The counter decided on {charge.key} and its answer was lost.")
        return _taken_answer(decided)

    def look_up(self, key: str) -> Answer:
        now = timezone.now()
        approve_what_is_due(now)
        with transaction.atomic():
            decided, was_unknown = CounterCharge.objects.get_or_create(
                key=key,
                defaults={"reference": _new_reference(), "outcome": Outcome.CLOSED, "decided_at": now},
            )
            outcome = "unknown until now; closed" if was_unknown else decided.outcome
            CounterEntry.objects.create(charge=decided, what=f"asked what became of it: {outcome}", at=now)
        return _answer(decided)

    def call_off(self, key: str) -> Decided:
        now = timezone.now()
        with transaction.atomic():
            open_one = CounterCharge.objects.select_for_update().filter(key=key, outcome=Outcome.OPEN).first()
            if open_one:
                open_one.outcome, open_one.reason, open_one.decided_at = Outcome.CLOSED, _CALLED_OFF, now
                open_one.save(update_fields=["outcome", "reason", "decided_at"])
                CounterEntry.objects.create(charge=open_one, what="called off", at=now)
        answer = self.look_up(key)
        assert not isinstance(answer, CheckWanted | Undecided)
        return answer

    def notices(self) -> list[Notice]:
        approve_what_is_due(timezone.now())
        untold = CounterNotice.objects.filter(acknowledged_at__isnull=True).select_related("charge").order_by("id")
        return [Notice(each.pk, each.charge.key, _decided_answer(each.charge)) for each in untold[:500]]

    def acknowledge(self, notice: Notice) -> None:
        CounterNotice.objects.filter(id=notice.number).update(acknowledged_at=timezone.now())

    @transaction.atomic
    def refund(self, refund: Refund) -> Refunded:
        now = timezone.now()
        known = CounterRefund.objects.select_related("charge").filter(key=refund.key).first()
        if known:
            then = (known.charge.reference, known.amount_minor, known.charge.currency)
            if then != (refund.charge_reference, refund.amount.minor, refund.amount.currency):
                raise KeyReused(f"The key {refund.key} stands for another refund.")
            return Refunded(known.reference)
        charge = (
            CounterCharge.objects.select_for_update()
            .filter(reference=refund.charge_reference, outcome=Outcome.APPROVED, currency=refund.amount.currency)
            .first()
        )
        given = charge.refunds.aggregate(sum=Sum("amount_minor"))["sum"] or 0 if charge else 0
        if charge is None or not 0 < refund.amount.minor <= charge.amount_minor - given:
            raise NothingToRefund(f"{refund.charge_reference} has no {refund.amount.major} left to give back.")
        made = CounterRefund.objects.create(
            key=refund.key,
            reference=_new_reference(),
            charge=charge,
            amount_minor=refund.amount.minor,
            decided_at=now,
        )
        what = f"asked to give back {refund.amount.major} {refund.amount.currency}: done"
        CounterEntry.objects.create(charge=charge, what=what, at=now)
        return Refunded(made.reference)

    @transaction.atomic
    def _decide(self, charge: Charge, used: Card, card: _KnownCard | None, now: datetime) -> CounterCharge:
        if _KNOWN.first(key=charge.key):
            known = CounterCharge.objects.get(key=charge.key)
            self._check_is_same(known, charge, used)
            CounterEntry.objects.create(charge=known, what=f"asked again with the same key: {known.outcome}", at=now)
            return known
        is_later = isinstance(charge.card, Token)
        reason = _reason_to_decline(used, card, now, is_later=is_later)
        conduct = card.conduct if card and not reason else ""
        if is_later and conduct == Conduct.CHECK_LATER:
            conduct = Conduct.CHECK
        is_replaced = is_later and conduct == Conduct.REPLACED
        outcome = Outcome.DECLINED if reason else Outcome.OPEN if conduct in _OPENS else Outcome.APPROVED
        decided = insert(
            CounterCharge(
                key=charge.key,
                reference=_new_reference(),
                outcome=outcome,
                reason=reason or "",
                account=charge.account,
                amount_minor=charge.amount.minor,
                currency=charge.amount.currency,
                card_ending=used.ending,
                statement_text=charge.statement_text,
                rehearsal=charge.rehearsal,
                check_wanted=conduct == Conduct.CHECK,
                return_address=charge.return_address,
                keep=charge.keep or is_replaced,
                approves_at=now + LATE_BY if conduct == Conduct.LATE else None,
                decided_at=now,
            )
        )
        if decided.keep and not reason:
            _keep(decided, _REPLACEMENT if is_replaced else used)
        what = f"asked for {charge.amount.major} {charge.amount.currency}: {reason or outcome.label.lower()}"
        insert(CounterEntry(charge=decided, what=what, at=now))
        if conduct == Conduct.TWICE:
            tell(decided)
            tell(decided)
        return decided

    def _check_is_same(self, known: CounterCharge, charge: Charge, used: Card) -> None:
        if known.outcome == Outcome.CLOSED:
            raise KeyReused(f"The key {charge.key} was closed before it was charged.")
        then = (known.account, known.amount_minor, known.currency, known.card_ending)
        now = (charge.account, charge.amount.minor, charge.amount.currency, used.ending)
        if then != now:
            raise KeyReused(f"The key {charge.key} stands for another charge.")


def _kept_card(charge: Charge) -> Card:
    """The card that is kept for the account under the token; one that nobody has, where there is none."""
    assert isinstance(charge.card, Token)
    kept = CounterKept.objects.filter(token=charge.card.token, charge__account=charge.account).first()
    return Card(kept.number, (kept.expiry_month, kept.expiry_year), "") if kept else _NO_CARD


def _keep(charge: CounterCharge, used: Card) -> None:
    month, year = used.expiry
    CounterKept.objects.create(
        charge=charge, token=secrets.token_urlsafe(24), number=used.number, expiry_month=month, expiry_year=year
    )


def _reason_to_decline(used: Card, card: _KnownCard | None, now: datetime, *, is_later: bool) -> DeclineReason | None:
    month, year = used.expiry
    if card is None:
        return DeclineReason.UNKNOWN_CARD
    if (year, month) < (now.year, now.month):
        return DeclineReason.EXPIRED_CARD
    declines = card.conduct == Conduct.DECLINE or (is_later and card.conduct == Conduct.FAIL_LATER)
    return DeclineReason(card.reason) if declines else None


def _answer(charge: CounterCharge) -> Answer:
    if charge.outcome != Outcome.OPEN:
        return _decided_answer(charge)
    return CheckWanted(reverse("counter:bank", args=[charge.reference])) if charge.check_wanted else Undecided()


def _taken_answer(charge: CounterCharge) -> Approved | Declined | CheckWanted | Undecided:
    """The answer to a charge, whose key is not closed: that was refused before."""
    answer = _answer(charge)
    assert not isinstance(answer, NeverCharged)
    return answer


def _decided_answer(charge: CounterCharge) -> Decided:
    if charge.outcome == Outcome.CLOSED:
        return NeverCharged(charge.reason == _CALLED_OFF)
    if charge.outcome == Outcome.APPROVED:
        if not charge.keep:
            return Approved(charge.reference)
        kept = charge.kept
        ending = kept.number[-4:] if kept.number[-4:] != charge.card_ending else ""
        return Approved(charge.reference, kept.token, ending)
    return Declined(charge.reference, DeclineReason(charge.reason))


def _new_reference() -> str:
    """80 bits that nobody can guess."""
    return in_groups(new_reference(16))


def in_groups(signs: str) -> str:
    """Sixteen signs as the counter's references are written, to be read aloud: ``7KQM-2XRT-9WPC-H4DN``."""
    return "-".join(signs[place : place + 4] for place in range(0, 16, 4))


def total_taken(account: str) -> list[Money]:
    """What the counter took for an account less what it gave back, by currency, without rehearsals: its side of the
    books."""
    sums: dict[str, int] = {}
    charges = CounterCharge.objects.filter(account=account, outcome=Outcome.APPROVED, rehearsal=False)
    for currency, minor in charges.values_list("currency", "amount_minor").iterator():
        sums[currency] = sums.get(currency, 0) + minor
    refunds = CounterRefund.objects.filter(charge__in=charges)
    for currency, minor in refunds.values_list("charge__currency", "amount_minor").iterator():
        sums[currency] -= minor
    return [Money(minor, currency) for currency, minor in sorted(sums.items())]
