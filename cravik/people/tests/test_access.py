"""Each business is sealed off: every address and every form, tried with another's ids."""

from __future__ import annotations

import io
import re
from unittest import mock
from urllib.parse import urlsplit

import time_machine
from django.contrib.auth import get_user_model
from django.core.management import CommandError, call_command
from django.test import TestCase, override_settings
from django.urls import reverse

from cravik.catalogue.table_import import keep_table
from cravik.links.models import Link
from cravik.mailroom.models import Letter
from cravik.orders.models import IssuedDocument, Order
from cravik.people.models import Membership
from cravik.people.roles import PERMISSIONS, Permission, Role
from cravik.people.tests.test_opening import Terminal
from cravik.setup.hosts import name_host
from cravik.setup.look_services import make_look
from cravik.setup.terms import make_terms
from cravik.ui.spreadsheets import Table
from tests.addresses import named_addresses, permissions_by_address
from tests.factories import BY, NOW, PASSWORD, MembershipFactory, UserFactory, make_draft, make_item, make_live
from tests.paying import pay_live

# Addresses that are for anyone, or that are tried in a test of their own below.
FOR_ANYONE = {
    *(
        "people:start",
        "people:sign_in",
        "people:sign_up",
        "people:confirm_sign_up",
        "people:sign_out",
        "people:no_business",
        "people:choose",
    ),
    *("people:forgotten", "people:new_password", "deep_health", "metrics"),
    *(
        "counter:cards",
        "counter:bank",
        "checkout:page",
        "checkout:wait",
        "checkout:confirm_waiting",
        "checkout:card",
        "spot:page",
        "handle:page",
        "handle:sum",
        "checkout:started",
        "checkout:fields",
        "checkout:oembed",
        "on_page:answer",
        "on_page:picture",
        "on_page:script",
        "checkout:slip",
        "pay:live",
        "pay:again",
        "confirmation:page",
        "confirmation:find",
        "confirmation:call_off",
        "healthy",
        "robots",
        "favicon",
        "security_txt",
        "to_change_password",
        "looks:style",
        "terms:version",
        "confirmation:download",
        "confirmation:document",
        "confirmation:document_file",
        "confirmation:receipt",
        "confirmation:invoice",
        *("confirmation:payments", "confirmation:stop"),
        *("purchases:page", "purchases:open", "purchases:data", "purchases:wish", "purchases:leave"),
        *("purchases:withdraw", "purchases:erase"),
        "pictures:show",
    ),
}

# Addresses whose arguments name a subject of one's own Setup, and nothing of anybody's.
OF_ONES_OWN = {
    *("setup:decision", "links:republish"),
    *("setup:message", "setup:message_original", "setup:message_sample"),
}
# What a step is called where it is not that of a link.
STEPS = {"setup:host_act": "check", "setup:look_act": "remove", "setup:terms_act": "archive"}


class SealTest(TestCase):
    @classmethod
    def setUpTestData(cls) -> None:
        cls.own = MembershipFactory()
        cls.other = MembershipFactory()
        cls.other_link = make_live(cls.other.business, "Zeppelin")
        cls.other_draft = make_draft(cls.other.business, "Box kite")
        cls.other_item = make_item(cls.other.business, "Zeppelin", code="ZEPPELIN")

        cls.other_terms = make_terms(cls.other.business, "Zeppelin terms", "x", NOW, by=BY)
        cls.other_host = name_host(cls.other.business, "pay.zeppelin.example", NOW, by=BY)
        cls.other_look = make_look(cls.other.business, NOW, by=BY)
        cls.other_upload = keep_table(cls.other.business, "Zeppelin.csv", Table(["name"], []), NOW)

    def setUp(self) -> None:
        pay_live(self.client, self.other_link)
        self.client.force_login(self.own.user)

    def arguments(self, address: str, names: list[str]) -> dict[str, object]:
        ids = {
            "document_id": IssuedDocument.objects.get(order__link=self.other_link).pk,
            "ending": "pdf",
            "terms_id": self.other_terms.pk,
            "look_id": self.other_look.pk,
            "link_id": self.other_link.pk,
            "host_id": self.other_host.pk,
            "spot_id": self.other_link.spots.get().pk,
            "item_id": self.other_item.pk,
            "picture_id": 1,
            "upload_id": self.other_upload.pk,
            "order_id": Order.objects.get().pk,
            "number": Order.objects.get().number,
            "letter_id": Letter.objects.first().pk,
            "checkout_id": Order.objects.get().checkout_id,
            "kind": "svg",
            "channel": "email",
            "reference": Order.objects.get().checkout.reference,
            "code": self.other_link.spots.get().code,
            "name": STEPS.get(address, "pause"),
            "subject": "delivery",
            "design": "anything",
            "line": "purpose",
        }
        return {name: ids[name] for name in names}

    def test_every_address_of_the_others_answers_as_if_it_were_not_there(self) -> None:
        tried = 0
        for name, arguments in named_addresses().items():
            if name in FOR_ANYONE or name in OF_ONES_OWN or not arguments:
                continue
            address = reverse(name, kwargs=self.arguments(name, arguments))
            for method in (self.client.get, self.client.post):
                with self.subTest(address):
                    self.assertIn(method(address).status_code, (404, 405))
            tried += 1
        self.assertGreaterEqual(tried, 11)
        self.other_link.refresh_from_db()
        self.assertEqual(self.other_link.state, Link.State.LIVE)

    def test_lists_and_files_hold_nothing_of_the_others(self) -> None:
        for name, arguments in named_addresses().items():
            if name in FOR_ANYONE or arguments:
                continue
            with self.subTest(name):
                answer = self.client.get(reverse(name), {"q": "eppelin"})
                body = b"".join(answer.streaming_content) if answer.streaming else answer.content
                self.assertNotIn(b"Zeppelin", body)
                self.assertNotIn(self.other.business.name.encode(), body)

    def test_every_sellers_address_asks_strangers_to_sign_in(self) -> None:
        self.client.logout()
        for name, arguments in named_addresses().items():
            if name not in FOR_ANYONE:
                for method in (self.client.get, self.client.post):
                    with self.subTest(name):
                        answer = method(reverse(name, kwargs=self.arguments(name, arguments)))
                        self.assertIn(answer.status_code, (302, 405))
                        self.assertTrue(answer.status_code == 405 or answer["Location"].startswith("/sign-in/"))

    def test_every_sellers_address_says_what_it_needs_and_lets_nobody_else_in(self) -> None:
        needed = {name: needs for name, needs in permissions_by_address().items() if name not in FOR_ANYONE}
        self.assertEqual([name for name, needs in needed.items() if needs is None], [])
        self.assertEqual([name for name, needs in needed.items() if not needs], ["people:change_password"])
        addresses = {name: reverse(name, kwargs=self.arguments(name, named_addresses()[name])) for name in needed}
        for had in Permission:
            with mock.patch.dict(PERMISSIONS, {Role.OWNER: frozenset({had})}):
                for name, needs in needed.items():
                    with self.subTest(name, had=had):
                        status = self.client.get(addresses[name]).status_code
                        if needs and had not in needs:
                            self.assertIn(status, (403, 405))
                        elif needs == {had}:
                            self.assertNotEqual(status, 403)
        with mock.patch.dict(PERMISSIONS, {Role.OWNER: frozenset({Permission.SEE})}):
            for name, needs in needed.items():
                if needs and needs != {Permission.SEE}:
                    with self.subTest(name):
                        self.assertIn(self.client.post(addresses[name]).status_code, (403, 405))

    def test_nobody_can_choose_a_business_that_is_not_theirs(self) -> None:
        for wanted in (str(self.other.business.pk), "x", "", "٣", "9" * 30):
            self.assertEqual(self.client.post("/setup/choose/", {"business": wanted}).status_code, 404)

    def test_a_member_of_two_moves_between_them(self) -> None:
        Membership.objects.create(user=self.own.user, business=self.other.business)
        self.assertNotContains(self.client.get("/"), "Box kite")
        self.client.post("/setup/choose/", {"business": self.other.business.pk})
        self.assertContains(self.client.get("/"), "Box kite")

    def test_a_user_without_a_business_is_told_so(self) -> None:
        self.client.force_login(UserFactory())
        self.assertContains(self.client.get("/", follow=True), "You don't belong to a business", status_code=403)


class SignInTest(TestCase):
    def test_one_network_and_one_password_have_bounds_that_do_not_keep_the_owner_out(self) -> None:
        user = MembershipFactory().user
        self.client.post("/sign-in/", {"username": user.email, "password": PASSWORD})
        self.client.post("/sign-out/")
        other = self.client_class()

        def guess(number: int, password: str, host: int) -> int:
            tried = {"username": f"seller{number}@x.example", "password": password}
            return other.post("/sign-in/", tried, REMOTE_ADDR=f"203.0.113.{host}").status_code

        self.assertEqual([guess(n, f"wrong {n}", 1) for n in range(42)], [200] * 40 + [429] * 2)
        self.assertEqual([guess(n, "summer", n + 2) for n in range(17)], [200] * 15 + [429] * 2)
        right = {"username": user.email, "password": PASSWORD}
        self.assertEqual(other.post("/sign-in/", right, REMOTE_ADDR="203.0.113.1").status_code, 429)
        mine = self.client.post("/sign-in/", right, REMOTE_ADDR="203.0.113.1")
        self.assertRedirects(mine, "/", msg_prefix="a browser of one's own is let in")

    def test_the_address_is_taken_in_any_case(self) -> None:
        user = MembershipFactory().user
        answer = self.client.post("/sign-in/", {"username": f" {user.email.upper()} ", "password": PASSWORD})
        self.assertRedirects(answer, "/")

    @override_settings(AXES_ENABLED=True)
    def test_five_wrong_passwords_lock_the_door_for_a_while(self) -> None:
        user = MembershipFactory().user
        for _ in range(5):
            answer = self.client.post("/sign-in/", {"username": user.email, "password": "wrong"})
        self.assertContains(answer, "Too many tries", status_code=429)
        answer = self.client.post("/sign-in/", {"username": user.email, "password": PASSWORD})
        self.assertEqual(answer.status_code, 429)

    @override_settings(AXES_ENABLED=True)
    def test_nobody_behind_the_same_address_locks_the_owner_out(self) -> None:
        user, other = MembershipFactory().user, MembershipFactory().user
        outsider = self.client_class()
        for browser, who in ((self.client, user), (outsider, other)):  # both have a device of their own
            browser.post("/sign-in/", {"username": who.email, "password": PASSWORD})
            browser.post("/sign-out/")
        for _ in range(6):
            answer = outsider.post("/sign-in/", {"username": user.email, "password": "wrong"})
        self.assertEqual(answer.status_code, 429, "another's browser is counted by its address")
        answer = self.client.post("/sign-in/", {"username": user.email, "password": PASSWORD})
        self.assertRedirects(answer, "/")
        self.client.post("/sign-out/")
        for _ in range(5):
            answer = self.client.post("/sign-in/", {"username": user.email, "password": "wrong"})
        self.assertEqual(answer.status_code, 429, "and one's own has its own count")

    def test_leaving_to_another_site_is_refused(self) -> None:
        user = MembershipFactory().user
        answer = self.client.post(
            "/sign-in/", {"username": user.email, "password": PASSWORD, "next": "https://evil.example/"}
        )
        self.assertRedirects(answer, "/")


class ForgottenPasswordTest(TestCase):
    def way_back(self, email: str) -> str:
        """The path in the line that is printed, or nothing."""
        with mock.patch("sys.stderr", Terminal()) as console:
            self.assertContains(self.client.post("/forgotten/", {"email": email}), "Check your mail")
        found = re.search(r"/new-password/\S+", console.getvalue())
        return found[0] if found else ""

    def test_the_way_back_is_a_letter_and_a_printed_line_and_works_once(self) -> None:
        user = MembershipFactory().user
        path = self.way_back(user.email.upper())
        self.assertIn(path, Letter.objects.get(to_address=user.email).text)
        page = self.client.get(path, follow=True)
        self.assertContains(page, "A new password")
        form = page.request["PATH_INFO"]
        self.assertContains(self.client.post(form, {"password": "short"}), "too short")
        self.assertRedirects(self.client.post(form, {"password": "a kite of its own"}), "/")
        self.client.logout()
        self.assertContains(self.client.get(path, follow=True), "no longer works")
        answer = self.client.post("/sign-in/", {"username": user.email, "password": "a kite of its own"})
        self.assertRedirects(answer, "/")

    def test_a_log_is_told_no_secret_and_a_command_prints_the_address(self) -> None:
        user = MembershipFactory().user
        with mock.patch("sys.stderr", io.StringIO()) as log:
            self.client.post("/forgotten/", {"email": user.email})
        self.assertNotIn("new-password", log.getvalue())
        out = io.StringIO()
        call_command("reset_password", user.email.upper(), stdout=out)
        path = urlsplit(out.getvalue().strip()).path
        self.assertContains(self.client.get(path, follow=True), "A new password")
        with self.assertRaisesMessage(CommandError, f"These do: {user.email}."):
            call_command("reset_password", "nobody@dunes.example")

    def test_another_person_is_let_in_by_a_command(self) -> None:
        member = MembershipFactory()
        out = io.StringIO()
        call_command("make_user", "Jory@dunes.example", name="Jory", stdout=out)
        page = self.client.get(urlsplit(out.getvalue().strip()).path, follow=True)
        self.client.post(page.request["PATH_INFO"], {"password": "a kite of its own"})
        jory = get_user_model().objects.get(email="jory@dunes.example")
        self.assertEqual(list(jory.businesses.all()), [member.business])
        for email, told in (("jory@dunes.example", "has an account already"), ("jory", "is not an e-mail address")):
            with self.assertRaisesMessage(CommandError, told):
                call_command("make_user", email)
        MembershipFactory()
        with self.assertRaisesMessage(CommandError, "Name one business"):
            call_command("make_user", "third@dunes.example")
        self.assertFalse(get_user_model().objects.filter(email="third@dunes.example").exists())

    def test_a_stranger_learns_nothing_and_a_user_is_not_flooded(self) -> None:
        member = MembershipFactory()
        self.assertEqual(self.way_back("nobody@dunes.example"), "")
        with time_machine.travel(NOW, tick=False):
            self.assertTrue(self.way_back(member.user.email))
            self.assertEqual(self.way_back(member.user.email), "")
        self.assertEqual(Letter.objects.count(), 1)

    def test_other_members_do_not_read_it(self) -> None:
        member = MembershipFactory()
        other = MembershipFactory(business=member.business)
        self.way_back(member.user.email)
        letter = Letter.objects.get()
        for user, status in ((member.user, 200), (other.user, 404)):
            self.client.force_login(user)
            self.assertEqual(self.client.get(f"/mailroom/{letter.pk}/").status_code, status)
            self.assertIs(letter.subject.encode() in self.client.get("/mailroom/").content, status == 200)

    def test_the_password_is_changed_by_who_knows_it(self) -> None:
        user = MembershipFactory().user
        self.client.force_login(user)
        wrong = self.client.post("/setup/password/", {"present": "x", "password": "a kite of its own"})
        self.assertContains(wrong, "not your current password", status_code=400)
        right = {"present": PASSWORD, "password": "a kite of its own"}
        self.assertRedirects(self.client.post("/setup/password/", right), "/setup/")
        user.refresh_from_db()
        self.assertTrue(user.check_password("a kite of its own"))
