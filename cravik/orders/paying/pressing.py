"""A press of the pay button: whether what was sent can be paid as it was seen, and what became of it."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from datetime import date, datetime
from typing import Protocol

from django.db.models import Q
from django.http import QueryDict

from cravik.buyers.keys import buyer_key
from cravik.catalogue.stock import SoldOut
from cravik.checkout.models import Checkout
from cravik.checkout.opening import Closed as WhyClosed
from cravik.checkout.opening import Opened
from cravik.checkout.page_token import PageToken, TokenRefused, parse_token
from cravik.checkout.pages.page import offered_of, pieces_at
from cravik.checkout.parts.base import Moment, PricedBasket
from cravik.checkout.selection import Selection
from cravik.core.errors import BasketRefused, Fault
from cravik.core.link.closing import why_closed
from cravik.core.link.counted import NOTHING_YET
from cravik.core.pricing.money import Money
from cravik.core.pricing.offer import Offer
from cravik.core.pricing.quote import Quote
from cravik.core.statistics.ladder import Rung
from cravik.journal.fields import note_fields
from cravik.journal.services import climb
from cravik.links.life.counting import NoPlaceLeft, NoUseLeft, TooFewLeft
from cravik.links.life.shown_version import ShownVersion, shown_version
from cravik.links.models import Version
from cravik.links.queries import counted_anew
from cravik.orders.own_page import own_path
from cravik.orders.paying.bounds_of_buyer import CodeUsedByBuyer, EnoughForOne, EnoughPieces
from cravik.orders.paying.decisions import (
    AtBank,
    Changed,
    Closed,
    Decision,
    Declined,
    Faulty,
    Outdated,
    Paid,
    Recounted,
    SentBefore,
    Undecided,
)
from cravik.orders.paying.submission import PaymentSubmission
from cravik.orders.paying.take import Outcome, PageUsed, PaidAlready, StepReached, take_payment
from cravik.orders.paying.under_way import OneUnderWay, TooManyUnderWay
from cravik.payments.models import Attempt
from cravik.payments.ways import present_ways
from cravik.payments.ways.card import bank_address
from cravik.ui.fields import clean_line
from cravik.ui.form_data import FormData
from cravik.ui.timings import Clock

#: The codes of a core refusal that mean that the whole page is closed.
_CLOSED: dict[str, WhyClosed] = {"closed": "day", "not_open_yet": "not_open_yet"}
#: What the page says where something was gone, or too much is under way; see ``checkout/pages/notices.py``.
_NOTICES: dict[type[Exception], str] = {
    SoldOut: "sold_out",
    NoPlaceLeft: "no_place_left",
    NoUseLeft: "code_used_up",
    CodeUsedByBuyer: "code_used_by_you",
    EnoughForOne: "enough_for_one",
    PaidAlready: "paid_already",
    OneUnderWay: "one_under_way",
    TooManyUnderWay: "too_many_under_way",
}


class Presser(Protocol):
    """Who pressed, as far as their request tells."""

    @property
    def locale(self) -> str:
        """By whose habits numbers are written."""
        ...

    @property
    def clock(self) -> Clock: ...

    def visitor(self, day: date) -> str: ...

    def network(self, day: date) -> str: ...

    def absolute(self, path: str) -> str:
        """The address of a page of ours, as a bank can lead back to it."""
        ...


def press_live(opened: Opened, sent: QueryDict, presser: Presser, now: datetime) -> Decision:
    """What becomes of a live page that was ``sent``. The link was published once."""
    assert opened.version is not None
    token = _token_in(sent, opened.link_id, rehearsal=False)
    if token is None:
        closed = opened.why_closed(now)
        return Closed(closed) if closed else Outdated("altered")
    seen = _seen(token, opened)
    if seen is not None and token.holds(now):
        return _Press(opened, seen, token, sent, presser, now).decide()
    if before := _of_before(token, sent):
        return before
    if closed := opened.why_closed(now):
        return Closed(closed)
    if token.version_id != opened.version.version_id:
        return Outdated("version_changed", token, seen)
    # The price is promised no more: it is worked out as of now, and a changed sum is shown first.
    fresh = token.shown_now(token.version_id, now)
    return _Press(opened, opened.version, fresh, sent, presser, now, was=token).decide()


def press_rehearsal(opened: Opened, revision: int, sent: QueryDict, presser: Presser, now: datetime) -> Decision:
    """The same of a rehearsal of the draft of that ``revision``."""
    assert opened.version is not None
    token = _token_in(sent, opened.link_id, rehearsal=True)
    if token is None:
        return Outdated("altered")
    if token.revision != revision:
        return _of_before(token, sent) or Outdated("version_changed")
    if not token.holds(now):
        token = token.shown_now(None, now)
    return _Press(opened, opened.version, token, sent, presser, now).decide()


def _token_in(sent: QueryDict, link_id: int, *, rehearsal: bool) -> PageToken | None:
    """The note of the page that was sent, if it is one of this link and kind."""
    try:
        token = parse_token(sent.get("page", ""))
    except TokenRefused:
        return None
    return token if token.link_id == link_id and token.rehearsal is rehearsal else None


def _seen(token: PageToken, opened: Opened) -> ShownVersion | None:
    """The version that the page showed, if it is one of this link."""
    if token.version_id is None:
        return None
    try:
        version = shown_version(token.version_id)
    except Version.DoesNotExist:
        return None
    return version if version.link_id == opened.link_id else None


def _of_before(token: PageToken, sent: QueryDict) -> SentBefore | Outdated | None:
    """Where a page that was paid, or is being paid, leads whoever sends it once more: its buyer to the confirmation,
    anyone else to a fresh page."""
    used = Q(attempts__state__in=Attempt.MAY_HAVE_PAID) | Q(order__isnull=False)
    checkout = Checkout.objects.filter(used, reference=token.reference).first()
    if checkout is None:
        return None
    if checkout.is_of(buyer_key(sent.get("email", "")), clean_line(sent.get("name", ""))):
        return SentBefore(token.reference)
    return Outdated("page_used")


@dataclass
class _Press:
    """One press: what was opened, what the page showed, what was sent. ``was`` is the token as it was sent, where its
    price is promised no more."""

    opened: Opened
    version: ShownVersion
    token: PageToken
    sent: QueryDict
    presser: Presser
    now: datetime
    was: PageToken | None = None
    offer: Offer = field(init=False)
    selection: Selection = field(init=False)

    def __post_init__(self) -> None:
        self.offer = self.version.offer_at(self.token.instant, self.opened.counted_for(self.version))
        self.selection = self._selection(self.sent)

    def _selection(self, data: FormData | None, shown: FormData | None = None, offer: Offer | None = None) -> Selection:
        moment = Moment(pieces=pieces_at(self.opened, self.version))
        offered = offered_of(self.opened, self.version, offer or self.offer, self.presser.locale, moment)
        return Selection(offered, data, shown, self.token.locked)

    def decide(self) -> Decision:
        if closed := why_closed(self.version.content, self.token.instant, NOTHING_YET):
            return Closed(closed)
        picked, refused = self._picked()
        faults: Sequence[Fault] = refused.faults if refused else ()
        if "update_total" in self.sent:
            return self._recounted(self.selection.beyond(picked.quote) if picked else faults)
        if closing := next((_CLOSED[fault.code] for fault in faults if fault.code in _CLOSED), None):
            return Closed(closing)
        way = self.selection.way(picked.quote if picked else None)
        is_valid = self.selection.is_valid(way)
        self.selection.put_at_fields(faults)
        if picked is None or not is_valid:
            return _of_before(self.token, self.sent) or self._faulty(way)
        if beyond := self.selection.beyond(picked.quote):
            return _of_before(self.token, self.sent) or self._short(beyond)
        if not self._saw(picked.quote):
            return _of_before(self.token, self.sent) or self._changed("sum_changed")
        return self._take(picked, way)

    def _picked(self) -> tuple[PricedBasket | None, BasketRefused | None]:
        try:
            return self.selection.picked(self._day, self.token.instant), None
        except BasketRefused as refused:
            return None, refused

    @property
    def _day(self) -> date:
        return self.token.day_in(self.opened.row.time_zone)

    def _saw(self, quoted: Quote) -> bool:
        """Whether the sums that stood on the page are those that are charged."""
        seen_total, seen_now = self.sent.get("seen_total"), self.sent.get("seen_now")
        if seen_total is None or seen_now is None:
            return not self.selection.matters and self._promised() == (quoted.total, quoted.due_now)
        return (seen_total, seen_now) == (quoted.total.major, quoted.due_now.major)

    def _promised(self) -> tuple[Money, Money]:
        """What the page of a plain link showed, by its token."""
        was = self.was or self.token
        offer = self.version.offer_at(was.instant, self.opened.counted_for(self.version))
        selection = self._selection(self.sent, offer=offer)
        quoted = selection.picked(was.day_in(self.opened.row.time_zone), was.instant).quote
        return quoted.total, quoted.due_now

    def _take(self, picked: PricedBasket, way: str) -> Decision:
        may_be_second = self.sent.get("second") == "yes"
        try:
            sent, clock = self._submission(picked, way), self.presser.clock
            outcome = take_payment(sent, present_ways(), self.now, clock, may_be_second=may_be_second)
        except PageUsed:
            return Outdated("page_used")
        except StepReached as other:
            return self._changed("step_reached", self._judged(self._selection(self.sent, offer=other.offer)))
        except TooFewLeft:
            self.opened = replace(self.opened, row=counted_anew(self.opened.row))
            self.selection = self._selection(self.sent)
            return self._short(self.selection.beyond(picked.quote))
        except EnoughPieces as enough:
            return self._short([self.selection.enough_of(enough.line, enough.most, enough.had)])
        except (NoUseLeft, CodeUsedByBuyer) as gone:
            without = self.sent.copy()
            without["code"] = ""
            return self._changed(_NOTICES[type(gone)], self._judged(self._selection(without)))
        except (SoldOut, NoPlaceLeft, EnoughForOne, PaidAlready, OneUnderWay, TooManyUnderWay) as gone:
            return self._changed(_NOTICES[type(gone)])
        return _became(outcome, self.token.reference)

    def _submission(self, picked: PricedBasket, way: str) -> PaymentSubmission:
        submitted = self.selection.submitted(way)
        day = self.now.date()
        return PaymentSubmission(
            business_id=self.opened.row.business_id,
            spot_id=self.token.spot_id or self.opened.row.spot_id,
            version=self.version,
            limits=(self.opened.version or self.version).content.limits,
            offer=self.offer,
            picked=picked,
            token=self.token,
            where=submitted.where,
            answers=submitted.answers,
            name=submitted.name,
            email=submitted.email,
            means=present_ways()[way].means_of(submitted.means),
            visitor="" if self.token.rehearsal else self.presser.visitor(day),
            network="" if self.token.rehearsal else self.presser.network(day),
            statement_text=self.opened.seller(self.version).statement_text,
            number_locale=self.presser.locale,
            typed={"page": self.token.signed(), **self.selection.typed_to_keep()},
            touched=self.selection.touched(way),
            return_address=self.presser.absolute(own_path(self.token.reference)),
        )

    def _faulty(self, way: str) -> Faulty:
        """Something that was typed cannot be taken: the visit began, and which fields were passed is written down."""
        if self.token.visit_id:
            climb(self.token.visit_id, self.version.link_id, Rung.STARTED, self.now)
            note_fields(self.token.visit_id, self.version.link_id, self.selection.touched(way), self.now)
        return Faulty(self.opened, self.selection, self.token)

    def _recounted(self, faults: Sequence[Fault]) -> Recounted:
        """The page with what was typed and what is wrong with it, before anything but the sum is judged."""
        typed = {name: self.sent.getlist(name) for name in self.sent}
        shown = {name: values if len(values) > 1 else values[0] for name, values in typed.items() if values}
        blank = dict.fromkeys((name for form in self.selection.lines for name in form.fields), "")
        selection = self._selection(None, blank | shown)
        selection.put_at_fields(faults)
        return Recounted(self.opened, selection, self.token)

    def _short(self, faults: Sequence[Fault]) -> Faulty | Changed:
        """The page with what can be had at the quantities of which more is wanted."""
        selection = self._judged(self.selection)
        selection.put_at_fields(faults)
        if faults and all(fault.code == "too_many_for_one" for fault in faults):
            return Faulty(self.opened, selection, self.token)
        if len(self.offer.lines) == 1 and any(fault.limit == 0 for fault in faults):
            selection.faults.clear()
            return self._changed("no_place_left", selection)
        return self._changed("too_few_left", selection)

    def _changed(self, notice: str, selection: Selection | None = None) -> Changed:
        return Changed(self.opened, selection or self.selection, self.token, (notice,))

    def _judged(self, selection: Selection) -> Selection:
        """The same, with what is wrong beside the basket at its fields."""
        selection.is_valid(selection.way(None))
        return selection


def _became(outcome: Outcome, reference: str) -> Decision:
    attempt = outcome.attempt
    if attempt is not None and bank_address(attempt):
        return AtBank(attempt, reference)
    if not outcome.is_taken:
        return Declined(reference, outcome.status)
    return Paid(reference) if outcome.status is None else Undecided(reference)
