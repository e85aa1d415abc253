"""Host names of a business's own: when they are answered, and with what."""

from __future__ import annotations

from datetime import timedelta
from typing import Any
from unittest import mock

from django.test import SimpleTestCase, TestCase, override_settings

from cravik.core.link.host_names import host_name_in
from cravik.links.places.spots import first_spot, make_spot
from cravik.mailroom.models import Letter
from cravik.orders.letter_tasks import write_due_letters
from cravik.orders.models import Order
from cravik.setup import hosts as services
from cravik.setup.models import HostName
from cravik.share.handles import name_handle
from tests.factories import BROWSER, BY, NOW, MembershipFactory, make_live
from tests.paying import filled_in

NAME = "pay.kites.example"
PAGE = "/setup/domain/"


def asked(answer: str | None) -> Any:
    """As if that were answered at the name."""
    return mock.patch("cravik.setup.hosts._asked", return_value=answer)


class ProofTest(SimpleTestCase):
    """A name is looked up once; what was found is judged, and connected to."""

    def ask(self, *found: list[str]) -> tuple[str | None, mock.MagicMock, mock.MagicMock]:
        rows = [[(2, 1, 6, "", (address, 0)) for address in addresses] for addresses in found]
        with (
            override_settings(CRAVIK_PUBLIC_ADDRESS="https://pay.example"),
            mock.patch("socket.getaddrinfo", side_effect=rows) as looked_up,
            mock.patch("socket.create_connection", side_effect=ConnectionRefusedError) as connected,
        ):
            return services._asked("pay.kites.example"), looked_up, connected

    def test_what_answers_differently_the_second_time_is_asked_at_the_first_address(self) -> None:
        _, looked_up, connected = self.ask(["93.184.215.14"], ["127.0.0.1"])
        self.assertEqual(looked_up.call_count, 1)
        self.assertEqual(connected.call_args.args[0], ("93.184.215.14", 443))

    def test_what_leads_inside_is_not_asked_by_an_installation_outside(self) -> None:
        for inside in ("127.0.0.1", "10.0.0.8", "169.254.169.254", "::1", "fd00::1", "::ffff:127.0.0.1"):
            for addresses in ([inside], ["93.184.215.14", inside]):
                with self.subTest(addresses):
                    answer, _, connected = self.ask(addresses, ["93.184.215.14"])
                    self.assertIsNone(answer)
                    connected.assert_not_called()


class HostNameTest(TestCase):
    def setUp(self) -> None:
        self.member = MembershipFactory()
        self.business = self.member.business
        self.link = make_live(self.business)
        self.other = make_live(purpose="Zeppelin")

    def at(self, path: str, host: str = NAME, data: dict[str, str] | None = None) -> Any:
        ask = self.client.post if data else self.client.get
        return ask(path, data, headers={"host": host, "user-agent": BROWSER})

    def pointed(self, name: str = NAME) -> HostName:
        host = services.name_host(self.business, name, NOW, by=BY)
        with asked(host.key):
            self.assertEqual(services.see_whether_pointed(host, NOW), "")
        host.refresh_from_db()
        return host

    def test_what_was_typed_is_read_as_a_name(self) -> None:
        for typed, name in (
            (" Pay.Kites.example. ", NAME),
            ("https://pay.kites.example/for/x", NAME),
            ("pay.kites.example:8000", NAME),
            ("drachen.bücher.example", "drachen.xn--bcher-kva.example"),
            *(
                (wrong, "")
                for wrong in (
                    "",
                    "kites",
                    "127.0.0.1",
                    "[::1]",
                    "a b.example",
                    "-x.example",
                    "1.2.3",
                    "https://[x",
                    "x" * 300,
                )
            ),
        ):
            self.assertEqual(host_name_in(typed), name, typed)
        with override_settings(CRAVIK_PUBLIC_ADDRESS="https://cravik.example"):
            for name in ("", "printer.local", "cravik.example", "a.internal"):
                self.assertTrue(services.host_fault(name), name)

    def test_it_is_answered_only_once_it_is_pointed_here(self) -> None:
        self.client.force_login(self.member.user)
        self.client.post(PAGE, {"name": NAME})
        host = HostName.objects.get()
        self.assertContains(self.client.get(PAGE), "It has to point here")
        self.assertEqual(self.at(self.link.path).status_code, 400)
        self.assertEqual(self.at(services.CHECK_PATH).content.decode(), host.key)
        for answer, says in ((None, "Nobody answers at"), ("hello", "is answered by another server")):
            with asked(answer):
                self.assertContains(self.client.post(f"{PAGE}{host.pk}/check/", follow=True), says)
        self.assertEqual(self.at(self.link.path).status_code, 400)
        with asked(host.key):
            self.client.post(f"{PAGE}{host.pk}/check/")
        self.assertContains(self.at(self.link.path), "Kite repair")
        self.client.post(f"{PAGE}{host.pk}/forget/")
        self.assertEqual(self.at(self.link.path).status_code, 400)

    def test_nothing_else_is_there(self) -> None:
        self.pointed()
        name_handle(self.other.business, "zeppelin", NOW, by=BY)
        for path in (self.other.path, first_spot(self.other).path, "/to/zeppelin/", "/to/zeppelin/5"):
            self.assertEqual(self.at(path).status_code, 404, path)
            self.assertEqual(self.client.get(path).status_code, 200, path)
        self.client.force_login(self.member.user)
        for path in ("/", "/links/new/", f"/links/{self.link.pk}/", "/sign-in/", "/setup/", "/orders/",
                     "/.well-known/change-password",
                     f"/for/rehearsal/{self.link.pk}/", "/nothing", "/for/", "//"):  # fmt: skip
            self.assertEqual(self.at(path).status_code, 404, path)
        for name in ("pay.other.example", "", "kites.example", "a..b", "x" * 300, "pay.kites.example@evil.example"):
            self.assertEqual(self.at(self.link.path, name or "?").status_code, 400, name)

    def test_it_is_paid_there_and_everything_carries_the_main_name(self) -> None:
        self.pointed("former.kites.example")
        self.pointed()
        self.client.force_login(self.member.user)
        self.client.post(f"{PAGE}{HostName.objects.get(name=NAME).pk}/main/")
        self.client.logout()
        page = self.at(first_spot(self.link).path)
        self.assertContains(page, f'rel="canonical" href="http://{NAME}:8000{self.link.path}"')
        form = filled_in(page)
        paid = self.at(f"{self.link.path}pay/", data=form)
        self.assertEqual(paid.status_code, 303)
        self.assertContains(self.at(paid["Location"]), "Kite repair")
        self.assertEqual(self.at(Order.objects.get().checkout.path, "former.kites.example").status_code, 200)
        write_due_letters.func()
        self.assertIn(f"http://{NAME}:8000/paid/", "".join(Letter.objects.values_list("text", flat=True)))
        self.client.force_login(self.member.user)
        self.assertContains(self.client.get(f"/links/{self.link.pk}/hand-out/"), f"http://{NAME}:8000{self.link.path}")
        club = make_spot(self.link, "Club page", NOW, by=BY)
        shown = self.client.get(f"/links/{self.link.pk}/spots/{club.pk}/")
        self.assertContains(shown, f"http://{NAME}:8000/k/{club.code}/")
        self.assertContains(self.client.get(self.other.path), f"http://localhost:8000{self.other.path}")

    def test_a_name_has_one_owner_and_lapses_if_it_is_never_pointed(self) -> None:
        services.name_host(self.business, NAME, NOW, by=BY)
        with self.assertRaises(services.HostTaken):
            services.name_host(self.other.business, NAME, NOW + services.LAPSES_AFTER, by=BY)
        taken = services.name_host(self.other.business, NAME, NOW + services.LAPSES_AFTER + timedelta(seconds=1), by=BY)
        self.assertEqual(taken.business, self.other.business)
        self.client.force_login(self.member.user)
        self.assertContains(self.client.post(PAGE, {"name": NAME}), "Another business here", status_code=400)
        for number in range(services.MAX_HOSTS):
            services.name_host(self.business, f"a{number}.kites.example", NOW, by=BY)
        self.assertContains(
            self.client.post(PAGE, {"name": "z.kites.example"}), "the most there can be", status_code=400
        )
        self.assertContains(self.client.post(PAGE, {"name": "kites"}), "Write a name such as", status_code=400)

    @override_settings(SECURE_HSTS_SECONDS=60, SECURE_HSTS_INCLUDE_SUBDOMAINS=True, SECURE_HSTS_PRELOAD=True)
    def test_what_holds_for_their_other_names_is_left_to_them(self) -> None:
        self.pointed()
        there = self.client.get(self.link.path, headers={"host": NAME}, secure=True)
        self.assertEqual(there["Strict-Transport-Security"], "max-age=60")

    def test_search_engines_stay_away_unless_the_seller_wants_a_link_found(self) -> None:
        self.assertEqual(self.client.get(self.link.path)["X-Robots-Tag"], "noindex")
        self.client.force_login(self.member.user)
        self.client.post(f"/links/{self.link.pk}/findable/", {"find": "yes"})
        self.assertNotIn("X-Robots-Tag", self.client.get(self.link.path))
        self.assertEqual(self.client.get("/")["X-Robots-Tag"], "noindex")
        self.client.post(f"/links/{self.link.pk}/findable/", {"find": "no"})
        self.assertEqual(self.client.get(self.link.path)["X-Robots-Tag"], "noindex")
