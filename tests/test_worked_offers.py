"""Worked offers through the whole application: brought in, shown on every screen, bought by the page's own fields.

The sums on the page, the charge and the ledger are those that stand beside the example; what the example refuses is
refused with its code at its field, and nothing is charged.
"""

from __future__ import annotations

import io
import json
import re
import tempfile
from datetime import datetime, timedelta
from pathlib import Path
from typing import Any

import time_machine
from django.core.management import call_command
from django.db import transaction
from django.db.models import Sum
from django.test import TestCase
from django.utils import timezone

from cravik.core.documents.offer import read_offer
from cravik.links.making.documents import exported, import_link
from cravik.links.models import Link
from cravik.orders.models import Order
from cravik.orders.running.due_now import take_due
from cravik.payments.counter.models import CounterCharge
from cravik.payments.models import Due, Movement
from cravik.payments.ways import present_ways
from cravik.people.models import Business
from tests.factories import BROWSER, BY, NOW, MembershipFactory, make_business
from tests.sampling import count_of, sample_of
from tests.worked import WHO, fields_of, instant_of, link_document, worked_cases

ALL = worked_cases()
#: A sample of the examples that were thought of by hand, and of those that were drawn.
DRAWN = [case for case in ALL if case["why"] == "drawn at random"]
CASES = sample_of([case for case in ALL if case not in DRAWN], 3) + sample_of(DRAWN, 90)
#: So many of a plan's later payments are lived through.
LIVED_THROUGH = count_of(60, 3)
#: Refusals that close the whole page stand at no field.
CLOSING = {"closed", "not_open_yet"}


class WorkedOffers(TestCase):
    """A share of the examples; each class is one for the parallel runner."""

    maxDiff = None
    cases: list[dict[str, Any]] = []

    @classmethod
    def setUpTestData(cls) -> None:
        cls.member = MembershipFactory(business__time_zone="UTC")

    def setUp(self) -> None:
        self.folder = Path(self.enterContext(tempfile.TemporaryDirectory()))

    def import_document(self, document: dict[str, Any], *flags: str) -> Link:
        file = self.folder / "link.json"
        file.write_text(json.dumps(document))
        out = io.StringIO()
        call_command("link", "import", str(file), *flags, stdout=out)
        slug = out.getvalue().strip().rstrip("/").rpartition("/")[2]
        return Link.objects.get(addresses__slug=slug)

    def test_each_is_shown_bought_and_booked_as_it_was_worked_out(self) -> None:
        bought = refused = 0
        for case in self.cases:
            clock = time_machine.travel(instant_of(case["basket"]), tick=False)
            with self.subTest(case["id"], why=case["why"]), clock, transaction.atomic():
                zone = zone_of(case["basket"])
                Business.objects.update(time_zone=zone)
                link = self.case_as_link(case)
                self.look_at_every_screen(link)
                if "errors" in case["quote"]:
                    self.check_refused(case, link)
                    refused += 1
                else:
                    self.check_bought(case, link)
                    bought += 1
                transaction.set_rollback(True)  # the next one finds the shop empty
        self.assertEqual(bought + refused, len(self.cases))
        self.assertTrue(not self.cases or (bought > 5 and refused > 0))

    def case_as_link(self, case: dict[str, Any]) -> Link:
        return self.import_document(link_document(case), "--publish")

    def look_at_every_screen(self, link: Link) -> None:
        self.client.force_login(self.member.user)
        for address in ("/", f"/links/{link.pk}/", f"/links/{link.pk}/hand-out/", f"/for/rehearsal/{link.pk}/"):
            self.assertEqual(self.client.get(address).status_code, 200, address)
        if link.state == Link.State.LIVE:
            self.client.logout()

    def opened(self, link: Link) -> tuple[str, dict[str, str]]:
        """Where the form is sent, and its token; nothing where the page is closed."""
        live = link.state == Link.State.LIVE
        address = link.path if live else f"/for/rehearsal/{link.pk}/"
        page = self.client.get(address, headers={"user-agent": BROWSER}).content.decode()
        token = re.search(r'name="page" value="([^"]+)"', page)
        return f"{address}pay/", {"page": token[1]} if token else {}

    def check_bought(self, case: dict[str, Any], link: Link) -> None:
        action, token = self.opened(link)
        quoted, fields = case["quote"], fields_of(case) | token
        slip = self.client.post("/for/visit/slip/", fields).json()
        self.assertEqual((slip["seen_total"], slip["seen_now"]), (quoted["total"], quoted["due_now"]))
        self.assertIn("slip", slip["pieces"])
        sent = fields | WHO
        shown = self.client.post(action, sent, headers={"user-agent": BROWSER})
        if shown.status_code == 409:  # something could be chosen, so the sum is shown first
            self.assertContains(shown, f'name="seen_total" value="{quoted["total"]}"', status_code=409)
            self.assertContains(shown, f'name="seen_now" value="{quoted["due_now"]}"', status_code=409)
            seen = {"seen_total": quoted["total"], "seen_now": quoted["due_now"]}
            shown = self.client.post(action, sent | seen, headers={"user-agent": BROWSER})
        self.assertEqual(shown.status_code, 303, shown.content.decode()[-2000:])
        order = Order.objects.latest("id")
        self.assertEqual((order.paid.major, order.currency), (quoted["due_now"], quoted["currency"]))
        moved = Movement.objects.filter(checkout=order.checkout).aggregate(sum=Sum("amount_minor"))["sum"] or 0
        charged = CounterCharge.objects.latest("id").amount_minor if moved else 0
        self.assertEqual((moved, charged), (order.paid.minor, order.paid.minor))
        dues = [(due.on.isoformat(), due.amount.major) for due in order.checkout.dues.all()]
        worked = [(case["basket"]["on"], quoted["due_now"])]
        worked += [(payment["on"], payment["amount"]) for payment in quoted["schedule"]]
        self.assertEqual(dues, worked)
        self.assertEqual(order.checkout.dues.filter(state=Due.State.PAID).count(), 1)
        self.assertEqual(self.client.get(shown["Location"]).status_code, 200)
        self.check_later(order, quoted["schedule"][:LIVED_THROUGH])

    def check_later(self, order: Order, schedule: list[dict[str, Any]]) -> None:
        """Each later payment is taken on its day, and comes to what was worked out."""
        for place, payment in enumerate(schedule, 1):
            day = datetime.fromisoformat(f"{payment['on']}T12:00:00+00:00")
            with time_machine.travel(day, tick=False):
                take_due(order, day.date(), present_ways(), timezone.now)
            due = order.checkout.dues.get(position=place)
            self.assertEqual(
                (due.state, due.on.isoformat(), due.amount.major), ("paid", payment["on"], payment["amount"])
            )
            brought = due.allocations.filter(attempt__state="approved").aggregate(sum=Sum("amount_minor"))["sum"] or 0
            self.assertEqual(brought, due.amount_minor)

    def check_refused(self, case: dict[str, Any], link: Link) -> None:
        before = (Order.objects.count(), CounterCharge.objects.count())
        action, token = self.opened(link)
        codes = {error["code"] for error in case["quote"]["errors"]}
        if codes & CLOSING and not token:
            page = self.client.get(link.path)
            why = re.search(r'data-closed="(\w+)"', page.content.decode())
            self.assertEqual(why and why[1], "day" if "closed" in codes else "not_open_yet")
            self.assertEqual(page.status_code, 410 if "closed" in codes else 200)
            return
        answer = self.client.post(action, fields_of(case) | token | WHO, headers={"user-agent": BROWSER})
        if codes & CLOSING:
            self.assertEqual(answer.status_code, 410 if "closed" in codes else 409)
        else:
            self.assertEqual(answer.status_code, 400)
            page = answer.content.decode()
            told = codes_in(page)
            for error in case["quote"]["errors"]:
                at = [name for name in fields_for(error, case) if f'data-error-for="{name}"' in page] or [""]
                self.assertIn(error["code"], {code for name in at for code in told.get(name, [])}, (error, told))
        self.assertEqual((Order.objects.count(), CounterCharge.objects.count()), before)


class ExportTest(TestCase):
    def test_every_imported_link_is_written_out_and_brought_in_again_as_an_equal_one(self) -> None:
        business = make_business()
        for case in sample_of(ALL, 8):
            with self.subTest(case["id"]):
                first = exported(import_link(business, link_document(case), NOW, by=BY))
                again = exported(import_link(business, json.loads(json.dumps(first)), NOW, by=BY))
                self.assertEqual(again, first | {"name": f"{case['id']} 2"})
                self.assertEqual(read_offer(first["offer"]), read_offer(case["offer"]))


class FirstWorkedOffersTest(WorkedOffers):
    cases = CASES[0::3]


class SecondWorkedOffersTest(WorkedOffers):
    cases = CASES[1::3]


class ThirdWorkedOffersTest(WorkedOffers):
    cases = CASES[2::3]


def zone_of(basket: dict[str, Any]) -> str:
    """A time zone in which the instant of the basket lies on its day."""
    offset = int((instant_of(basket).utcoffset() or timedelta()).total_seconds() // 3600)
    return f"Etc/GMT{-offset:+d}" if offset else "UTC"


def fields_for(error: dict[str, Any], case: dict[str, Any]) -> list[str]:
    """The fields of which one has to say the refusal, if the page has it; what stands at none is told at its head."""
    at, lines = error["at"], {line["key"]: line for line in case["offer"]["lines"]}
    if error["code"] in ("nothing_chosen", "parcel_too_heavy"):
        return []  # of the basket as a whole
    if at == "lines":  # a line that the basket left out: the page has it, and says it there
        return [
            f"option.{key}.{number}"
            for key, line in lines.items()
            for number in range(1, len(line.get("choices", [])) + 1)
        ] + [f"{part}.{key}" for key in lines for part in ("level", "amount", "quantity")]
    if found := re.fullmatch(r"lines\[(\d+)\]\.(\w+)(?:\.(.+))?", at):
        key = case["basket"]["lines"][int(found[1])]["key"]
        if found[2] != "options":
            return [f"{found[2]}.{key}"]
        groups = [choice["name"] for choice in lines[key]["choices"]]
        return [f"option.{key}.{groups.index(found[3]) + 1}"] if found[3] in groups else []
    return ["country"] if at == "destination" else [at]


def codes_in(page: str) -> dict[str, list[str]]:
    """The codes of what is refused, by the field at which it stands; nothing for what stands at the page's head."""
    at_fields = re.findall(r'data-error-for="([^"]+)" data-codes="([^"]*)"', page)
    at_head = re.findall(r'role="alert" data-codes="([^"]*)"', page)
    return {name: codes.split() for name, codes in at_fields} | {
        "": [code for text in at_head for code in text.split()]
    }
