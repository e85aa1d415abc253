"""What every gateway promises; a new one is added to ``GATEWAYS`` and has to pass."""

from __future__ import annotations

from dataclasses import replace

from django.test import TestCase
from stdnum import luhn

from cravik.core.pricing.money import Money
from cravik.payments.counter.gateway import CounterGateway, total_taken
from cravik.payments.counter.models import CounterCard, CounterCharge
from cravik.payments.gateway import (
    AnswerLost,
    Approved,
    Card,
    Charge,
    CheckWanted,
    Declined,
    DeclineReason,
    Gateway,
    KeyReused,
    NeverCharged,
    NothingToRefund,
    Refund,
    Refunded,
    Undecided,
)
from tests.paying import APPROVES, FALLS_SILENT, NO_FUNDS

GATEWAYS: list[Gateway] = [CounterGateway(dawdle_seconds=0)]


def charge(
    number: str = APPROVES, key: str = "key-1", minor: int = 2400, expiry: tuple[int, int] = (9, 2031)
) -> Charge:
    return Charge(key, "business-1", Money(minor, "EUR"), Card(number, expiry, "123"), "WINDLESTRAW", False, "/paid/X/")


class GatewayContractTest(TestCase):
    def test_an_approval_has_a_reference_and_comes_again_for_its_key(self) -> None:
        for gateway in GATEWAYS:
            first = gateway.charge(charge())
            self.assertIsInstance(first, Approved)
            self.assertEqual(gateway.charge(charge()), first)
            self.assertEqual(gateway.look_up("key-1"), first)
            self.assertNotEqual(gateway.charge(charge(key="key-2")), first)

    def test_a_decline_says_why_and_comes_again_for_its_key(self) -> None:
        for gateway in GATEWAYS:
            first = gateway.charge(charge(NO_FUNDS))
            self.assertEqual((type(first), first.reason), (Declined, DeclineReason.INSUFFICIENT_FUNDS))
            self.assertEqual(gateway.look_up("key-1"), first)

    def test_a_key_stands_for_one_charge_alone(self) -> None:
        for gateway in GATEWAYS:
            gateway.charge(charge())
            for other in (charge(minor=2500), replace(charge(), account="business-2"), charge(NO_FUNDS)):
                with self.assertRaises(KeyReused):
                    gateway.charge(other)

    def test_a_lost_answer_can_be_asked_for(self) -> None:
        for gateway in GATEWAYS:
            with self.assertRaises(AnswerLost):
                gateway.charge(charge(FALLS_SILENT))
            self.assertIsInstance(gateway.look_up("key-1"), Approved)

    def test_a_key_that_never_arrived_is_closed_for_ever(self) -> None:
        for gateway in GATEWAYS:
            self.assertEqual([gateway.look_up("late"), gateway.look_up("late")], [NeverCharged(), NeverCharged()])
            with self.assertRaises(KeyReused):
                gateway.charge(charge(key="late"))

    def test_what_is_undecided_says_so_until_it_is_called_off_for_ever(self) -> None:
        for gateway in GATEWAYS:
            for conduct, kind in (("check", CheckWanted), ("late", Undecided), ("never", Undecided)):
                asked = charge(CounterCard.objects.get(conduct=conduct).number, key=f"key-{conduct}")
                self.assertIsInstance(gateway.charge(asked), kind)
                self.assertEqual(gateway.look_up(asked.key), gateway.charge(asked))
                self.assertEqual(gateway.call_off(asked.key), NeverCharged(called_off=True))
                self.assertEqual(gateway.look_up(asked.key), NeverCharged(called_off=True))
                with self.assertRaises(KeyReused):
                    gateway.charge(asked)

    def test_what_is_decided_stands_when_it_is_called_off(self) -> None:
        for gateway in GATEWAYS:
            approved = gateway.charge(charge())
            self.assertEqual(gateway.call_off("key-1"), approved)

    def test_what_is_told_unasked_comes_again_until_it_is_acknowledged(self) -> None:
        for gateway in GATEWAYS:
            approved = gateway.charge(charge(CounterCard.objects.get(conduct="twice").number))
            told = gateway.notices()
            self.assertEqual([(each.key, each.answer) for each in told], [("key-1", approved)] * 2)
            self.assertEqual(gateway.notices(), told)
            gateway.acknowledge(told[0])
            self.assertEqual(gateway.notices(), told[1:])

    def test_a_refund_gives_back_up_to_what_was_charged_once_a_key(self) -> None:
        for gateway in GATEWAYS:
            charged = gateway.charge(charge())
            assert isinstance(charged, Approved)
            part = Refund("refund-1", charged.reference, Money(1000, "EUR"))
            first = gateway.refund(part)
            self.assertIsInstance(first, Refunded)
            self.assertEqual(gateway.refund(part), first)
            rest = gateway.refund(replace(part, key="refund-2", amount=Money(1400, "EUR")))
            self.assertNotEqual(rest, first)
            for other in (
                replace(part, key="refund-3", amount=Money(1, "EUR")),
                replace(part, key="refund-4", charge_reference="nothing"),
                replace(part, key="refund-5", amount=Money(0, "EUR")),
                replace(part, key="refund-6", amount=Money(100, "GBP")),
            ):
                with self.assertRaises(NothingToRefund):
                    gateway.refund(other)
            with self.assertRaises(KeyReused):
                gateway.refund(replace(part, amount=Money(900, "EUR")))

    def test_a_declined_charge_has_nothing_to_refund(self) -> None:
        for gateway in GATEWAYS:
            declined = gateway.charge(charge(NO_FUNDS))
            with self.assertRaises(NothingToRefund):
                gateway.refund(Refund("refund-1", declined.reference, Money(100, "EUR")))


class CounterTest(TestCase):
    def test_its_cards_are_nobodys_and_cover_every_conduct(self) -> None:
        cards = list(CounterCard.objects.all())
        self.assertTrue(
            all(card.number.startswith("9") and len(card.number) == 16 and luhn.is_valid(card.number) for card in cards)
        )
        self.assertEqual({card.conduct for card in cards}, set(CounterCard.Conduct.values))
        self.assertEqual(
            {card.reason for card in cards if card.reason},
            set(DeclineReason) - {DeclineReason.UNKNOWN_CARD, DeclineReason.CHECK_FAILED, DeclineReason.CHECK_GIVEN_UP},
        )

    def test_each_listed_card_does_what_its_row_says(self) -> None:
        gateway = CounterGateway(dawdle_seconds=0)
        for card in CounterCard.objects.filter(conduct="decline"):
            answer = gateway.charge(charge(card.number, key=card.number))
            self.assertEqual(answer.reason, card.reason)

    def test_cards_it_does_not_know_or_that_have_expired_are_declined(self) -> None:
        gateway = CounterGateway()
        self.assertEqual(gateway.charge(charge("9000000000009994", "a")).reason, DeclineReason.UNKNOWN_CARD)
        self.assertEqual(gateway.charge(charge(key="b", expiry=(1, 2020))).reason, DeclineReason.EXPIRED_CARD)

    def test_its_log_and_its_books_tell_what_happened(self) -> None:
        gateway = CounterGateway()
        gateway.charge(charge())
        gateway.charge(charge())
        gateway.charge(charge(NO_FUNDS, key="key-2"))
        gateway.charge(replace(charge(key="key-3"), rehearsal=True))
        entries = CounterCharge.objects.get(key="key-1").entries.order_by("id").values_list("what", flat=True)
        self.assertEqual(list(entries), ["asked for 24.00 EUR: approved", "asked again with the same key: approved"])
        self.assertEqual(total_taken("business-1"), [Money(2400, "EUR")])
        reference = CounterCharge.objects.get(key="key-1").reference
        gateway.refund(Refund("refund-1", reference, Money(400, "EUR")))
        self.assertEqual(total_taken("business-1"), [Money(2000, "EUR")])

    def test_the_list_of_cards_is_open_to_all(self) -> None:
        self.assertContains(self.client.get("/counter/cards/"), "9000 0000 0000 0019")
