"""What follows the first payment: agreements, kept cards, dues in parts and together, trials, plans without end."""

from __future__ import annotations

from datetime import UTC, date, datetime, timedelta
from typing import Any
from unittest import mock

import time_machine
from django.test import TestCase
from django.utils import timezone

from cravik.core.pricing.money import Money
from cravik.events.models import Event
from cravik.orders.models import Order
from cravik.orders.own_page import own_path
from cravik.orders.paying.reconcile import reconcile
from cravik.orders.running.collecting import AboveWhatIsLeft, KeyOfAnotherCharge, NothingToCollect, collect
from cravik.payments.counter.gateway import CounterGateway
from cravik.payments.counter.models import CounterKept
from cravik.payments.dues import DueBeingPaid, waive_due
from cravik.payments.models import Agreement, Allocation, Attempt, Due, KeptCard, Movement
from cravik.payments.services import begin_attempt
from cravik.payments.ways import present_ways
from cravik.payments.ways.card import KeptCardMeans
from cravik.people.actors import CLOCK
from tests.factories import MembershipFactory
from tests.links import line, make_link
from tests.paying import APPROVES, NO_FUNDS, filled_in

EVERY_MONTH = {"count": 1, "unit": "month"}
INSTALMENTS = {"kind": "instalments", "every": EVERY_MONTH, "payments": 3}
ENDLESS = {"kind": "repeat", "every": EVERY_MONTH}


class _OverTime(TestCase):
    def rehearsed(self, plan: dict[str, Any], amount: str = "100.00", /, **form: str) -> Order:
        """An order with that plan, which can only be rehearsed as yet."""
        self.pressed(plan, amount, **form)
        return Order.objects.latest("id")

    def pressed(self, plan: dict[str, Any], amount: str = "100.00", /, **form: str) -> Any:
        member = MembershipFactory()
        link = make_link(line(amount=amount), offer={"plan": plan}, business=member.business, published=False)
        self.client.force_login(member.user)
        address = f"/for/rehearsal/{link.pk}/"
        return self.client.post(f"{address}pay/", filled_in(self.client.get(address), **form))

    def collect(self, order: Order, *positions: int, key: str = "k", amount: str = "") -> Attempt:
        money = Money.parse(amount, order.currency) if amount else None
        return collect(order, positions, key, present_ways(), timezone.now, by=CLOCK, amount=money)

    def states(self, order: Order) -> list[tuple[str, int]]:
        return list(order.checkout.dues.order_by("position").values_list("state", "paid_minor"))

    def told(self, order: Order) -> list[tuple[str, int | None, str]]:
        events = Event.objects.filter(order_id=order.pk).order_by("id")
        return [(event.kind, event.data.get("minor"), event.by) for event in events]


class AgreementTest(_OverTime):
    def test_what_was_agreed_is_kept_in_the_words_of_the_page_with_the_cards_token(self) -> None:
        with time_machine.travel(datetime(2026, 1, 31, 12, tzinfo=UTC)):
            order = self.rehearsed(INSTALMENTS)
        agreement = Agreement.objects.get(checkout=order.checkout)
        self.assertEqual(
            agreement.words,
            "€33.34 today, then 2 × €33.33 on the last day of each month, the last on 31 Mar 2026; €100.00 in all."
            " Later payments are taken from this card on their days.",
        )
        self.assertEqual(
            (agreement.state, agreement.plan, agreement.until), ("running", INSTALMENTS, date(2026, 3, 31))
        )
        self.assertEqual((agreement.in_all_minor, agreement.each.major), (10000, "33.33"))
        kept = agreement.kept_card
        assert kept is not None
        self.assertEqual((kept.ending, kept.business), ("0019", order.business))
        self.assertEqual(CounterKept.objects.get(token=kept.token).number, APPROVES)
        self.assertNotIn(APPROVES, kept.token)

    def test_it_is_over_with_its_last_due(self) -> None:
        order = self.rehearsed(INSTALMENTS)
        self.collect(order, 1, key="a")
        self.assertEqual(Agreement.objects.get().state, "running")
        self.collect(order, 2, key="b")
        agreement = Agreement.objects.get()
        self.assertEqual((agreement.state, agreement.ended_at is not None), ("ended", True))
        with self.assertRaises(NothingToCollect):
            self.collect(order, 2, key="c")

    def test_a_card_that_was_declined_is_not_kept_and_the_next_is(self) -> None:
        declined = self.pressed(INSTALMENTS, card_number=NO_FUNDS)
        self.assertFalse(KeptCard.objects.exists())
        page = self.client.get(declined["Location"])
        link = Agreement.objects.get(state="offered").checkout.line.link
        self.client.post(f"/for/rehearsal/{link.pk}/pay/", filled_in(page))
        self.assertEqual(Agreement.objects.get(state="running").kept_card, KeptCard.objects.get())

    def test_who_pays_all_of_it_after_a_decline_agreed_to_nothing_more(self) -> None:
        choice = {
            "kind": "choice",
            "of": [{"key": "parts", "plan": INSTALMENTS}, {"key": "all", "plan": {"kind": "once"}}],
        }
        declined = self.pressed(choice, card_number=NO_FUNDS, plan="parts")
        link = Agreement.objects.get(state="offered").checkout.line.link
        page = filled_in(self.client.get(declined["Location"]), plan="all", seen_total="100.00", seen_now="100.00")
        self.client.post(f"/for/rehearsal/{link.pk}/pay/", page)
        self.assertEqual(self.states(Order.objects.get()), [("paid", 10000)])
        self.assertFalse(Agreement.objects.exists() or KeptCard.objects.exists())

    def test_what_is_paid_once_is_no_agreement(self) -> None:
        self.rehearsed({"kind": "once"})
        self.assertFalse(Agreement.objects.exists() or CounterKept.objects.exists() or KeptCard.objects.exists())

    def test_a_link_that_keeps_the_card_keeps_it_even_of_who_pays_nothing(self) -> None:
        member = MembershipFactory()
        link = make_link(line(amount="0.00"), business=member.business, published=False, asks={"keep_card": True})
        self.client.force_login(member.user)
        address = f"/for/rehearsal/{link.pk}/"
        self.client.post(f"{address}pay/", filled_in(self.client.get(address)))
        agreement = Agreement.objects.get()
        self.assertEqual((agreement.state, agreement.plan), ("running", None))
        self.assertEqual(agreement.kept_card, KeptCard.objects.get())


class TrialTest(_OverTime):
    plan = ENDLESS | {"trial_days": 14}

    def test_a_free_trial_asks_for_its_card_and_charges_nothing(self) -> None:
        refused = self.pressed(self.plan, card_number="")
        self.assertContains(refused, "Write the number on the front of the card.", status_code=400)
        order = self.rehearsed(self.plan)
        self.assertEqual((order.paid.minor, Movement.objects.count()), (0, 0))
        shown = self.client.get(own_path(order.checkout.reference))
        for said in ("There was nothing to pay today", "Booked", "First full payment", "ending in 0019"):
            self.assertContains(shown, said)
        self.assertEqual(self.states(order)[0], ("paid", 0))
        self.assertEqual(Agreement.objects.get().kept_card, KeptCard.objects.get())
        self.assertEqual(self.told(order), [("order.made", None, "buyer")])

    def test_its_first_payment_is_charged_to_that_card(self) -> None:
        order = self.rehearsed(self.plan)
        self.collect(order, 1)
        self.assertEqual(self.states(order)[1], ("paid", 10000))
        order.refresh_from_db()
        self.assertEqual(order.paid.major, "100.00")

    def test_a_card_that_is_no_good_begins_none(self) -> None:
        answer = self.pressed(self.plan, card_number=NO_FUNDS)
        self.assertIn("/again/", answer["Location"])
        self.assertFalse(Order.objects.exists())


class CollectTest(_OverTime):
    def setUp(self) -> None:
        self.order = self.rehearsed(INSTALMENTS)

    def test_a_due_is_charged_once_however_often_it_is_asked_for(self) -> None:
        attempts = {self.collect(self.order, 1).pk for _ in range(3)}
        self.assertEqual((len(attempts), Movement.objects.count()), (1, 2))
        self.assertEqual(self.states(self.order), [("paid", 3334), ("paid", 3333), ("open", 0)])
        self.order.refresh_from_db()
        self.assertEqual(self.order.paid.minor, 6667)
        self.assertEqual(self.told(self.order)[-1], ("due.paid", 3333, "clock"))
        with self.assertRaises(NothingToCollect):
            self.collect(self.order, 1, key="another")

    def test_a_key_is_of_one_order(self) -> None:
        self.collect(self.order, 1)
        with self.assertRaises(KeyOfAnotherCharge):
            self.collect(self.rehearsed(INSTALMENTS), 1)

    def test_one_charge_meets_several_dues(self) -> None:
        attempt = self.collect(self.order, 1, 2)
        self.assertEqual(list(attempt.allocations.values_list("amount_minor", flat=True)), [3333, 3333])
        self.assertEqual(self.states(self.order), [("paid", 3334), ("paid", 3333), ("paid", 3333)])
        self.assertEqual([told[:2] for told in self.told(self.order)[-2:]], [("due.paid", 3333)] * 2)
        self.assertEqual(Movement.objects.latest("id").amount_minor, 6666)

    def test_several_charges_meet_one_due_and_never_more(self) -> None:
        self.collect(self.order, 1, key="a", amount="20.00")
        self.assertEqual(self.states(self.order)[1], ("part", 2000))
        with self.assertRaises(AboveWhatIsLeft) as refused:
            self.collect(self.order, 1, key="b", amount="13.34")
        self.assertEqual(refused.exception.left.major, "13.33")
        for amount in ("0.00", "-1.00"):
            with self.assertRaises(AboveWhatIsLeft):
                self.collect(self.order, 1, key="b", amount=amount)
        self.collect(self.order, 1, key="b", amount="13.33")
        self.assertEqual(self.states(self.order)[1], ("paid", 3333))
        due = self.order.checkout.dues.get(position=1)
        with self.assertRaises(ValueError):
            begin_attempt(
                self.order.checkout, {due: 1}, KeptCardMeans(KeptCard.objects.get()), "c", timezone.now(), by=CLOCK
            )

    def test_a_declined_one_has_failed_and_can_be_paid_after_all(self) -> None:
        CounterKept.objects.update(number=NO_FUNDS)
        self.assertEqual(self.collect(self.order, 1).state, "declined")
        self.assertEqual(self.states(self.order)[1], ("failed", 0))
        self.assertEqual(self.told(self.order)[-1], ("due.failed", 3333, "clock"))
        self.assertIsNotNone(Order.objects.get().paid_at, "what was paid before stands")
        CounterKept.objects.update(number=APPROVES)
        self.collect(self.order, 1, key="again")
        self.assertEqual(self.states(self.order)[1], ("paid", 3333))

    def test_cut_off_before_or_after_it_was_asked_for_it_is_charged_at_most_once(self) -> None:
        for place, becomes in (("charge", ("open", 0)), ("record", ("paid", 3333))):
            target = f"{CounterGateway.__module__}.CounterGateway.charge" if place == "charge" else ""
            with (
                mock.patch(target or "cravik.orders.running.collecting.take_answer", side_effect=SystemExit),
                self.assertRaises(SystemExit),
            ):
                self.collect(self.order, 1, key=place)
            with self.assertRaises(DueBeingPaid):
                self.collect(self.order, 1, 2, key="another")
            with self.assertRaises(DueBeingPaid):
                waive_due(self.order.checkout.dues.get(position=1))
            self.assertEqual(reconcile(present_ways(), timezone.now(), timezone.now), 1)
            self.assertEqual(self.states(self.order)[1], becomes)
        self.assertFalse(Allocation.objects.filter(undecided=True).exists())

    def test_a_waived_due_is_not_collected(self) -> None:
        waive_due(self.order.checkout.dues.get(position=1))
        with self.assertRaises(NothingToCollect):
            self.collect(self.order, 1)
        self.collect(self.order, 1, 2, key="b")
        self.assertEqual(self.states(self.order), [("paid", 3334), ("waived", 0), ("paid", 3333)])
        self.assertEqual(Agreement.objects.get().state, "ended")

    def test_a_token_is_of_one_account(self) -> None:
        other = self.rehearsed(INSTALMENTS)
        Agreement.objects.filter(checkout=self.order.checkout).update(
            kept_card=Agreement.objects.get(checkout=other.checkout).kept_card
        )
        attempt = self.collect(self.order, 1)
        self.assertEqual((attempt.state, attempt.reason), ("declined", "unknown_card"))


class EndlessTest(_OverTime):
    def dues(self, order: Order) -> list[Due]:
        return list(order.checkout.dues.order_by("position"))

    def test_as_many_dues_stay_ahead_on_the_days_and_at_the_sums_of_the_plan(self) -> None:
        first = {"payments": 14, "prices": {"kite": {"kind": "fixed", "amount": "60.00"}}}
        with time_machine.travel(datetime(2026, 1, 31, 12, tzinfo=UTC)):
            order = self.rehearsed(ENDLESS | {"first": first})
        self.assertEqual(len(self.dues(order)), 13)
        for position, month in enumerate((2, 3, 4, 5), 1):
            with time_machine.travel(datetime(2026, month, 28, 12, tzinfo=UTC) + timedelta(days=3)):
                self.collect(order, position, key=f"k{position}")
        dues = self.dues(order)
        self.assertEqual([due.position for due in dues], list(range(17)))
        self.assertEqual(sum(due.state == "open" for due in dues), 12)
        self.assertEqual([due.amount_minor for due in dues], [6000] * 14 + [10000] * 3)
        self.assertEqual([str(due.on) for due in dues[13:]], ["2027-02-28", "2027-03-31", "2027-04-30", "2027-05-31"])

    def test_after_a_trial_they_are_counted_from_its_end(self) -> None:
        with time_machine.travel(datetime(2026, 1, 17, 12, tzinfo=UTC)):
            order = self.rehearsed(ENDLESS | {"trial_days": 14})
        ahead = len(self.dues(order)) - 1
        for position, at in enumerate(
            (datetime(2026, 1, 31, 12, tzinfo=UTC), datetime(2026, 2, 28, 12, tzinfo=UTC)), 1
        ):
            with time_machine.travel(at):
                self.collect(order, position, key=f"k{position}")
        days = [str(due.on) for due in self.dues(order)]
        self.assertEqual(days[:4], ["2026-01-17", "2026-01-31", "2026-02-28", "2026-03-31"])
        self.assertEqual((len(days), days[-1]), (ahead + 3, "2027-02-28"))
        self.assertEqual(Agreement.objects.get().until, None)
        self.assertGreater(timedelta(days=800), self.dues(order)[-1].on - self.dues(order)[0].on)
