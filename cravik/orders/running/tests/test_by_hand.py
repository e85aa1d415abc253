"""What a seller changes of what runs, a rehearsal's whole life, and what is not for everybody."""

from __future__ import annotations

from datetime import date, timedelta
from pathlib import Path
from tempfile import TemporaryDirectory
from typing import Any

import time_machine
from django.test import Client, TestCase, override_settings
from django.utils import timezone

from cravik.catalogue.digital_goods import file_path
from cravik.catalogue.models import ItemFile, Variant
from cravik.checkout.models import Checkout
from cravik.mailroom.models import Letter
from cravik.orders.models import Download, Order
from cravik.orders.running.expected import expected_of
from cravik.orders.running_path import running_path
from cravik.payments.counter.models import CounterCard, CounterCharge
from cravik.payments.models import Agreement, Due, Movement
from cravik.setup.models import RunningSettings
from cravik.setup.running import rules_at
from tests.factories import NOW, MembershipFactory, make_item
from tests.links import line, make_link
from tests.over_time import (
    DEPOSIT,
    ENDLESS,
    INSTALMENTS,
    PaymentsPage,
    buy,
    live,
    noon,
    states,
    subjects,
)
from tests.paying import filled_in

JAN_31, FEB_10 = date(2026, 1, 31), date(2026, 2, 10)


class _Seller(TestCase):
    def setUp(self) -> None:
        member = MembershipFactory(business__time_zone="Europe/Dublin")
        self.business = member.business
        self.client.force_login(member.user)

    def press(self, order: Order, act: str, /, at: date = FEB_10, **fields: str) -> Any:
        with time_machine.travel(noon(at, self.business), tick=False):
            return self.client.post(running_path(order), {"act": act, **fields}, follow=True)


class ChangeTest(_Seller):
    def test_a_day_is_moved_and_a_sum_lowered_and_the_buyer_told(self) -> None:
        order = buy(self.business, INSTALMENTS, JAN_31)
        changed = self.press(order, "change", position="1", **{"due-1-on": "2026-03-15", "due-1-amount": "20,00"})
        self.assertContains(changed, "Changed. The buyer is told by letter.")
        self.assertEqual(
            [f"{each.on} {each.amount.major}" for each in order.checkout.dues.order_by("position")][1],
            "2026-03-15 20.00",
        )
        self.assertEqual(len(subjects(["plan_changed"])), 2)
        more = self.press(order, "change", position="2", **{"due-2-on": "2026-03-31", "due-2-amount": "33.34"})
        self.assertContains(more, "More than was agreed can&#x27;t be taken.", status_code=400)
        live(self.business, date(2026, 2, 25), date(2026, 4, 1))
        self.assertEqual([paid for _, _, paid in states(order)], ["33.34", "20.00", "33.33"])
        self.assertEqual(Agreement.objects.get().why, "completed")
        self.assertEqual(Order.objects.get().paid.major, "86.67")

    def test_waived_skipped_paused_and_ended(self) -> None:
        parts, club = buy(self.business, INSTALMENTS, JAN_31), buy(self.business, ENDLESS, JAN_31)
        self.assertContains(self.press(parts, "waive", position="1"), "Waived.")
        self.assertContains(self.press(parts, "waive", position="1"), "Nothing was changed.")
        self.assertContains(self.press(parts, "skip", position="2"), "Nothing was changed.")
        self.assertContains(self.press(club, "skip", position="1"), "Skipped.")
        self.assertContains(self.press(club, "pause"), "Paused.")
        self.assertContains(self.press(club, "resume"), "It goes on.")
        self.assertContains(self.press(club, "end", when="now"), "nothing more is taken")
        self.assertContains(self.press(club, "resume"), "Nothing was changed.")
        live(self.business, date(2026, 2, 25), date(2026, 4, 2))
        self.assertEqual([state for _, state, _ in states(parts)], ["paid", "waived", "paid"])
        self.assertEqual(Movement.objects.filter(checkout=club.checkout).count(), 1)
        self.assertEqual(Agreement.objects.get(checkout=club.checkout).why, "seller")

    def test_a_sum_of_its_own_is_told_before_and_can_be_refused(self) -> None:
        order = buy(self.business, ENDLESS, JAN_31)
        typed = {"sum-amount": "7.50", "sum-reason": "A lost tail", "sum-on": "2026-02-11"}
        self.assertContains(self.press(order, "sum", **typed), "12 Feb 2026 at the earliest", status_code=400)
        self.press(order, "sum", **typed | {"sum-on": "2026-02-13"})
        self.press(order, "sum", **typed | {"sum-on": "2026-02-20", "sum-amount": "4.00"})
        live(self.business, FEB_10, FEB_10)
        told = Letter.objects.filter(kind="payment_comes").order_by("id")
        self.assertEqual(len(told), 2)
        self.assertIn("A lost tail", told[0].text)
        second = Due.objects.latest("position")
        with time_machine.travel(noon(date(2026, 2, 12), self.business), tick=False):
            page = PaymentsPage(order)
            self.assertIn("It won&#x27;t be taken.", page.press("refuse", position=str(second.position)))
            self.assertIn("no longer possible", page.press("refuse", position="1"))
        live(self.business, date(2026, 2, 12), date(2026, 3, 1))
        self.assertEqual([each.amount_minor for each in Movement.objects.order_by("id")], [10000, 750, 10000])

    def test_a_refund_says_what_is_still_to_come_until_it_is_ended(self) -> None:
        order = buy(self.business, ENDLESS, JAN_31)
        page = self.client.get(order.refund_path)
        self.assertContains(page, "A refund does not end later payments.")
        self.assertContains(page, "</span>, due 28 Feb 2026.")
        self.press(order, "end", when="now")
        self.assertNotContains(self.client.get(order.refund_path), "later payments")

    def test_another_business_finds_nothing(self) -> None:
        order = buy(self.business, ENDLESS, JAN_31)
        self.client.force_login(MembershipFactory().user)
        self.assertEqual(self.client.get(running_path(order)).status_code, 404)
        self.assertEqual(self.client.post(running_path(order), {"act": "end", "when": "now"}).status_code, 404)
        self.assertNotContains(self.client.get("/running/"), order.buyer_name)


class ListTest(_Seller):
    def test_who_is_on_what_and_what_is_expected(self) -> None:
        order = buy(self.business, INSTALMENTS, JAN_31)
        buy(self.business, ENDLESS, date(2026, 2, 1), "10.00")
        buy(self.business, DEPOSIT, date(2026, 2, 1))
        with time_machine.travel(noon(FEB_10, self.business), tick=False):
            page = self.client.get("/running/").content.decode()
            for said in ("in 3 equal parts, every month", "€66.66", "no end", "Expected in the next six months"):
                self.assertIn(said, page)
            expected = expected_of(self.business, timezone.now())
            sums = [each.total.major for each in expected.months]
            self.assertEqual(sums, ["33.33", "123.33", "10.00", "10.00", "10.00", "10.00"])
            for query, found in (("?q=Saltmarsh", 3), ("?state=arrears", 0), ("?q=nobody", 0), ("?state=paused", 0)):
                self.assertEqual(self.client.get(f"/running/{query}").content.decode().count('class="of-number'), found)
            rows = b"".join(self.client.get("/running/running.csv")).decode().split("\r\n")
            self.assertEqual(len([row for row in rows if row]), 4)
            self.assertIn(f"{order.number},Kites,Maren Saltmarsh,maren@dunes.example,running", rows[3])


class StockTest(_Seller):
    def test_each_payment_takes_its_pieces_where_its_seller_wants_it(self) -> None:
        RunningSettings.objects.create(
            business=self.business, revision=1, decided_at=noon(date(2020, 1, 1), self.business), takes_each_time=True
        )
        item = make_item(self.business, "Tail", code="TAIL")
        Variant.objects.filter(item=item).update(count=2)
        with time_machine.travel(noon(JAN_31, self.business), tick=False):
            link = make_link(line(), items={"kite": "TAIL"}, offer={"plan": ENDLESS}, business=self.business)
            form = filled_in(Client().get(link.path, headers={"user-agent": "Mozilla/5.0"}))
            self.assertEqual(Client().post(f"{link.path}pay/", form).status_code, 303)
        live(self.business, date(2026, 2, 28), date(2026, 2, 28))
        self.assertEqual(Variant.objects.get(item=item).count, 0)
        live(self.business, date(2026, 3, 31), date(2026, 3, 31))
        page = self.client.get(running_path(Order.objects.get())).content.decode()
        self.assertIn("A payment came, and not enough was left for it", page)


class AccessTest(_Seller):
    def test_downloads_are_closed_while_it_is_paused_and_open_again_with_each_payment(self) -> None:
        self.enterContext(override_settings(CRAVIK_FILES=Path(self.enterContext(TemporaryDirectory()))))
        order = buy(self.business, ENDLESS, JAN_31)
        item = make_item(self.business, "Pattern", code="PATTERN")
        file = ItemFile.objects.create(item=item, key="k" * 32, title="pattern.pdf", size=3, made_at=NOW)
        path = file_path(file.key)
        assert path is not None
        path.parent.mkdir(parents=True, exist_ok=True)
        path.write_bytes(b"pdf")
        until = noon(date(2026, 2, 20), self.business)
        download = Download.objects.create(order=order, file=file, key="d" * 24, most=10, until=until)

        def status(day: date) -> int:
            with time_machine.travel(noon(day, self.business), tick=False):
                return int(self.client.get(download.path).status_code)

        self.assertEqual(status(FEB_10), 200)
        self.press(order, "pause")
        self.assertEqual(status(FEB_10), 410)
        self.press(order, "resume")
        self.assertEqual((status(FEB_10), status(date(2026, 2, 21))), (200, 410))
        live(self.business, date(2026, 2, 28), date(2026, 2, 28))
        self.assertEqual(status(date(2026, 3, 29)), 200)
        self.press(order, "end", at=date(2026, 3, 29), when="now")
        self.assertEqual(status(date(2026, 3, 29)), 410)


class RehearsedLifeTest(_Seller):
    def rehearse(self, plan: dict[str, Any], card: str) -> Order:
        link = make_link(line(amount="100.00"), offer={"plan": plan}, business=self.business, published=False)
        address = f"/for/rehearsal/{link.pk}/"
        form = filled_in(self.client.get(address), card_number=card)
        self.assertEqual(self.client.post(f"{address}pay/", form).status_code, 303)
        return Order.objects.latest("id")

    def card(self, conduct: str, reason: str = "") -> str:
        return str(CounterCard.objects.filter(conduct=conduct, reason=reason).first().number)  # type: ignore[union-attr]

    def test_a_year_is_lived_in_a_press_letter_by_letter(self) -> None:
        with time_machine.travel(noon(JAN_31, self.business), tick=False):
            order = self.rehearse(ENDLESS | {"trial_days": 14}, self.card("approve"))
            page = self.client.get(running_path(order))
            self.assertContains(page, "something happens next on 11 Feb 2026")
            self.assertContains(
                self.client.post(running_path(order), {"act": "live", "to": "next"}, follow=True),
                "Its clock says <strong>11 Feb 2026</strong>",
            )
            self.client.post(running_path(order), {"act": "live", "to": "year"})
        self.assertEqual(len(subjects(["payment_comes"])), 1)
        self.assertEqual(len(subjects(["payment_taken"])), 12)
        self.assertTrue(all(subject.startswith("Rehearsal: ") for subject in subjects(["payment_taken"])))
        days = Movement.objects.order_by("id").values_list("at__date", flat=True)
        self.assertEqual((str(days[0]), str(days[1]), len(days)), ("2026-02-14", "2026-03-14", 12))
        self.assertEqual(CounterCharge.objects.filter(rehearsal=False).count(), 0)
        self.assertEqual(Checkout.objects.filter(rehearsal=False).count(), 0)

    def test_cards_that_fail_ask_or_are_replaced_later(self) -> None:
        with time_machine.travel(noon(JAN_31, self.business), tick=False):
            poor = self.rehearse(ENDLESS, self.card("fail_later", "insufficient_funds"))
            self.client.post(running_path(poor), {"act": "live", "to": "month"})
            self.client.post(running_path(poor), {"act": "live", "to": "month"})
            self.assertEqual(Agreement.objects.get(checkout=poor.checkout).state, "paused")
            asked = self.rehearse(ENDLESS, self.card("check_later"))
            self.client.post(running_path(asked), {"act": "live", "to": "next"})
            self.assertIn("Confirm at your bank", PaymentsPage(asked).text())
            new = self.rehearse(ENDLESS, self.card("replaced"))
            self.client.post(running_path(new), {"act": "live", "to": "month"})
            agreement = Agreement.objects.get(checkout=new.checkout)
            self.assertEqual(agreement.kept_card and agreement.kept_card.ending, "0118")
            self.client.post(running_path(new), {"act": "live", "to": "next"})
            self.assertEqual([state for _, state, _ in states(new)][:3], ["paid", "paid", "paid"])

    def test_a_card_expires_by_the_clock_of_the_rehearsal(self) -> None:
        with time_machine.travel(noon(JAN_31, self.business), tick=False):
            link = make_link(line(), offer={"plan": ENDLESS}, business=self.business, published=False)
            address = f"/for/rehearsal/{link.pk}/"
            self.client.post(f"{address}pay/", filled_in(self.client.get(address), expiry="02/26"))
            order = Order.objects.latest("id")
            self.client.post(running_path(order), {"act": "live", "to": "next"})
            self.client.post(running_path(order), {"act": "live", "to": "next"})
        self.assertEqual([state for _, state, _ in states(order)][:3], ["paid", "paid", "failed"])
        self.assertIn("The card has expired.", Letter.objects.get(kind="payment_failed").text)

    def test_the_clock_of_timed_work_leaves_rehearsals_alone(self) -> None:
        with time_machine.travel(noon(JAN_31, self.business), tick=False):
            order = self.rehearse(ENDLESS, self.card("approve"))
        live(self.business, date(2026, 2, 27), date(2026, 3, 2))
        self.assertEqual(states(order)[1][1], "open")


class SetupTest(_Seller):
    def test_what_is_decided_holds_for_whoever_buys_afterwards(self) -> None:
        first = buy(self.business, ENDLESS, JAN_31)
        typed = {
            "seen": "0",
            "tries_after": "1 3",
            "then": "end",
            "stops": "now",
            "may_skip": "on",
            "tell_days": "5",
            "rest": "asked",
        }
        self.assertContains(self.client.post("/setup/later-payments/", typed, follow=True), "Saved.")
        self.assertEqual(self.client.post("/setup/later-payments/", typed).status_code, 409)
        self.assertEqual(rules_at(self.business.pk, timezone.now()).tries_after, (1, 3))
        second = buy(self.business, ENDLESS, timezone.localdate() + timedelta(days=1))
        rules = [Agreement.objects.get(checkout=order.checkout).agreed_rules.stops for order in (first, second)]
        self.assertEqual(rules, ["period", "now"])
        with self.subTest("an open page"):  # one that is kept in the process shows what holds now
            link = second.link
            with time_machine.travel(timezone.now() + timedelta(seconds=3), tick=False):
                self.assertContains(Client().get(link.path), "You can stop at any time in your purchases.")
            self.client.post("/setup/later-payments/", typed | {"seen": "1", "stops": "ask"})
            with time_machine.travel(timezone.now() + timedelta(seconds=5), tick=False):
                shown = Client().get(link.path)
                self.assertContains(shown, "To stop, write to the seller.")
                self.assertEqual(Client().post(f"{link.path}pay/", filled_in(shown)).status_code, 303)
            last = Agreement.objects.latest("id")
            self.assertEqual(last.agreed_rules.stops, "ask")
            self.assertContains(shown, last.words)
        for wrong, said in (
            ("x", "Write whole days"),
            ("5, 2", "each later than"),
            ("1 2 3 4 5 6 7", "At most 6"),
            ("61", "From 1 to 60"),
        ):
            refused = self.client.post("/setup/later-payments/", typed | {"seen": "2", "tries_after": wrong})
            self.assertContains(refused, said, status_code=400)


class ProposalTest(_Seller):
    def test_a_new_price_holds_once_the_buyer_accepts_it(self) -> None:
        order = buy(self.business, ENDLESS, JAN_31)
        typed = {"new-amount": "120.00", "new-on": "2026-03-15", "new-words": "Silk is dearer"}
        self.assertContains(
            self.press(order, "propose", **typed | {"new-amount": "100"}), "another than now", status_code=400
        )
        self.assertContains(self.press(order, "propose", **typed), "it holds once they accept it")
        self.assertContains(self.press(order, "propose", **typed), "Nothing was changed.")
        live(self.business, date(2026, 2, 28), date(2026, 3, 1))
        with time_machine.travel(noon(date(2026, 3, 2), self.business), tick=False):
            page = PaymentsPage(order)
            proposal = Agreement.objects.get().proposals.get()
            self.assertIn("Silk is dearer", page.text())
            self.assertIn("You accepted.", page.press("answer", proposal=str(proposal.pk), answer="yes"))
            self.assertIn("no longer possible", page.press("answer", proposal=str(proposal.pk), answer="no"))
        live(self.business, date(2026, 3, 31), date(2026, 5, 1))
        self.assertEqual([paid for _, _, paid in states(order)][:4], ["100.00", "100.00", "120.00", "120.00"])
        self.assertEqual(
            [str(each.total_minor) for each in order.documents.order_by("id")], ["10000", "10000", "12000", "12000"]
        )
        self.assertIn("€120.00 each, as agreed later", Agreement.objects.get().words)

    def test_and_never_without_a_yes(self) -> None:
        order = buy(self.business, ENDLESS, JAN_31)
        self.press(order, "propose", **{"new-amount": "120.00", "new-on": "2026-02-15"})
        live(self.business, date(2026, 2, 28), date(2026, 2, 28))
        with time_machine.travel(noon(date(2026, 3, 2), self.business), tick=False):
            proposal = Agreement.objects.get().proposals.get()
            self.assertIn(
                "Everything stays", PaymentsPage(order).press("answer", proposal=str(proposal.pk), answer="no")
            )
        live(self.business, date(2026, 3, 31), date(2026, 3, 31))
        self.assertEqual([each.amount_minor for each in Movement.objects.order_by("id")], [10000, 10000, 10000])


class KeptCardTest(_Seller):
    def test_a_card_that_is_kept_pays_a_sum_with_its_own_line_on_the_receipt(self) -> None:
        with time_machine.travel(noon(JAN_31, self.business), tick=False):
            link = make_link(line(amount="0.00"), asks={"keep_card": True}, business=self.business)
            shown = self.client.get(link.path)
            self.assertContains(shown, "Your card is kept for sums that you and the seller agree on later.")
            self.client.logout()
            self.assertEqual(Client().post(f"{link.path}pay/", filled_in(Client().get(link.path))).status_code, 303)
        order = Order.objects.get()
        self.client.force_login(self.business.members.get())
        self.press(order, "sum", **{"sum-amount": "7.50", "sum-reason": "A lost tail", "sum-on": "2026-02-13"})
        live(self.business, FEB_10, date(2026, 2, 14))
        self.assertEqual(Order.objects.get().paid.major, "7.50")
        document = order.documents.get()
        self.assertEqual([each["name"] for each in document.content["lines"]], ["A lost tail"])
        self.assertEqual(len(subjects(["payment_taken"])), 1)
        self.assertContains(self.client.get(order.path), "7.50")
        self.assertContains(self.client.get(order.refund_path), "Everything left")
