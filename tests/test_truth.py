"""A crowd of which everything is known comes over HTTP, and the results are exactly what was planned: on the page, in
its CSV and on the command line, before the days are summed and after."""

from __future__ import annotations

import http.client
import io
import json
import random
import re
import urllib.parse
from collections import Counter, defaultdict
from dataclasses import dataclass, field
from datetime import UTC, date, datetime, timedelta
from typing import Any
from zoneinfo import ZoneInfo

import time_machine
from django.core.management import call_command
from django.test import Client, LiveServerTestCase

from cravik.links.making.documents import import_link
from cravik.links.models import Link, Spot
from cravik.links.places.spots import first_spot, make_spot
from cravik.orders.summing import differences, sum_days
from cravik.people.models import Business
from tests.browser.base import fill_the_counter
from tests.factories import BROWSER, BY, PASSWORD, MembershipFactory
from tests.links import document, line
from tests.paying import APPROVES, NO_FUNDS
from tests.sampling import count_of

DUBLIN = ZoneInfo("Europe/Dublin")
#: Days with a border of their own: the clocks go forward and back, the middle of summer time, the end of a month.
DAYS = tuple(date(2026, *day) for day in ((3, 28), (3, 29), (7, 31), (8, 1), (10, 25), (10, 26)))
MADE = datetime(2026, 3, 20, 12, tzinfo=DUBLIN)
VISITS = count_of(1_800, 150)
#: How each person goes about it, and how often: what is counted of it stands beside the doing, in ``Crowd``.
WAYS = {
    **{"looks": 60, "reloads": 8, "begins": 22, "is declined": 6, "pays": 12, "pays in a second tab": 3},
    **{"comes back": 4, "asks not to be told apart": 4, "robot": 6, "preview": 3, "fetches ahead": 3, "head": 2},
    **{"robot that pays": 1, "mistypes": 3},
}
ROBOT = "Mozilla/5.0 (compatible; examplebot/2.1; +http://robots.example/bot.html)"
PREVIEW = "unfurlbot/1.0 (link preview for chats)"


@dataclass
class Plan:
    """What has to come out: rungs and money by day, link and spot, and what is left out by day and reason."""

    rungs: defaultdict[tuple[date, str, str], Counter[str]] = field(default_factory=lambda: defaultdict(Counter))
    money: Counter[tuple[date, str, str]] = field(default_factory=Counter)
    left_out: defaultdict[date, Counter[str]] = field(default_factory=lambda: defaultdict(Counter))

    def of(self, first: date, last: date, link: str, spot: str | None = None) -> tuple[tuple[int, ...], int]:
        found, minor = Counter[str](), 0
        for (day, at, by), rungs in self.rungs.items():
            if first <= day <= last and at == link and spot in (None, by):
                found += rungs
                minor += self.money[day, at, by]
        return tuple(found[rung] for rung in ("opened", "started", "tried", "paid")), minor


class TruthTest(LiveServerTestCase):
    def setUp(self) -> None:
        fill_the_counter()
        with time_machine.travel(MADE, tick=False):
            self.member = MembershipFactory(business__time_zone="Europe/Dublin")
            self.business: Business = self.member.business
            self.links = [
                import_link(self.business, document(line(amount=amount), name=name), MADE, published=True, by=BY)
                for name, amount in (("Delta", "24.00"), ("Ribbon", "3.50"))
            ]
            self.spots = [
                (link, spot)
                for link in self.links
                for spot in (first_spot(link), make_spot(link, f"Sign for {link.name}", MADE, by=BY))
            ]
        self.plan, self.chance, self.people = Plan(), random.Random(1907), 0

    def test_the_figures_are_exactly_those_of_the_plan(self) -> None:
        instants = [self.instant() for _ in range(VISITS)]
        ways = self.chance.choices(list(WAYS), list(WAYS.values()), k=VISITS)
        for way, at in sorted(zip(ways, instants, strict=True), key=lambda pair: pair[1]):
            Person(self, way, at, *self.chance.choice(self.spots)).go()
        self.come_in_a_crowd(datetime(2026, 8, 1, 12, 30, 5, tzinfo=DUBLIN))
        self.look_oneself(datetime(2026, 8, 1, 13, tzinfo=DUBLIN))
        for _ in range(2):
            for first, last in [(day, day) for day in DAYS] + [(DAYS[0], DAYS[-1]), (DAYS[1], DAYS[3])]:
                with self.subTest(first=first, last=last):
                    self.hold_against_the_plan(first, last)
            sum_days(self.business, datetime(2026, 11, 5, 12, tzinfo=DUBLIN))
        self.assertEqual(list(differences(self.business)), [])

    def instant(self) -> datetime:
        """At any time of one of the days, every fifth within a minute of midnight."""
        day = datetime.combine(self.chance.choice(DAYS), datetime.min.time(), DUBLIN)
        if self.chance.random() < 0.2:
            return day + timedelta(seconds=self.chance.choice((0, 1, 20, 59)))
        later = timedelta(seconds=self.chance.randrange(3600, 22 * 3600))
        return (day.astimezone(UTC) + later).astimezone(DUBLIN)

    def come_in_a_crowd(self, at: datetime) -> None:
        """More from one network address in one minute than people make: 120 count, and the rest are a crowd."""
        link, spot = self.spots[0]
        with time_machine.travel(at, tick=False):
            for number in range(130):
                get(self, spot.path, f"{BROWSER} crowd {number}", "127.99.0.7")
        self.plan.rungs[at.date(), link.slug, spot.code]["opened"] += 120
        self.plan.left_out[at.date()]["crowd"] += 10

    def look_oneself(self, at: datetime) -> None:
        link, spot = self.spots[1]
        seller = Client()
        with time_machine.travel(at, tick=False):
            self.assertTrue(seller.login(username=self.member.user.email, password=PASSWORD))
            for path in (spot.path, link.path, f"/for/rehearsal/{link.pk}/"):
                self.assertEqual(seller.get(path, headers={"user-agent": BROWSER}).status_code, 200)
        self.plan.left_out[at.date()].update({"own": 2, "rehearse": 1})

    def hold_against_the_plan(self, first: date, last: date) -> None:
        out = io.StringIO()
        call_command("results", "--from", str(first), "--to", str(last), stdout=out)
        told = {link["link"]: link for link in json.loads(out.getvalue())["links"]}
        with time_machine.travel(datetime(2026, 11, 5, 12, tzinfo=DUBLIN), tick=False):
            seller = Client()
            seller.force_login(self.member.user)
            query = f"?from={first}&to={last}"
            by_link = table(seller.get(f"/results/{query}&as=csv"))
            shown = figures_on(seller.get(f"/results/{query}").content.decode())
            for link in self.links:
                planned = self.plan.of(first, last, link.slug)
                self.assertEqual(of_command(told[link.slug]), planned)
                self.assertEqual(by_link.get(link.name, ((0, 0, 0, 0), 0)), planned)
                self.assertEqual(shown.get(link.name, (0, 0, 0, 0)), planned[0])
                by_spot = table(seller.get(f"/links/{link.pk}/results/{query}&as=csv"))
                spots = {spot["spot"]: of_command(spot) for spot in told[link.slug]["spots"]}
                for spot in (each for at, each in self.spots if at == link):
                    planned = self.plan.of(first, last, link.slug, spot.code)
                    self.assertEqual((spots[spot.code], by_spot[spot.name]), (planned, planned))
        left_out = sum((counts for day, counts in self.plan.left_out.items() if first <= day <= last), Counter[str]())
        self.assertEqual(json.loads(out.getvalue())["left_out"], dict(sorted(left_out.items())))


class Person:
    """Somebody who comes to a spot at an instant, and goes about it in one of the ``WAYS``."""

    def __init__(self, test: TruthTest, way: str, at: datetime, link: Link, spot: Spot) -> None:
        self.test, self.way, self.at, self.link, self.spot = test, way, at, link, spot
        test.people += 1
        self.number = test.people
        self.agent = {"robot": ROBOT, "robot that pays": ROBOT, "preview": PREVIEW}.get(way, f"{BROWSER} {self.number}")
        self.address = f"127.{1 + (self.number >> 8)}.{self.number & 255}.1"

    @property
    def path(self) -> str:
        return self.link.path if self.spot.is_first else self.spot.path

    def go(self) -> None:
        with time_machine.travel(self.at, tick=False) as clock:
            match self.way:
                case "looks":
                    self.open()
                case "reloads":
                    self.open()
                    clock.shift(timedelta(minutes=29))
                    self.open(counts=False)
                    clock.shift(timedelta(minutes=29))
                    self.open(counts=False)
                case "begins":
                    self.begin(self.open())
                case "mistypes":
                    self.send(self.open(), email="nowhere")
                    self.reach("started")
                case "is declined":
                    self.send(self.open(), card_number=NO_FUNDS)
                    self.reach("started", "tried")
                case "pays":
                    self.pay(self.open())
                case "pays in a second tab":
                    self.open()
                    clock.shift(timedelta(minutes=3))
                    self.pay(self.open(counts=False))
                case "comes back":
                    self.begin(self.open())
                    clock.shift(timedelta(minutes=31))
                    self.at += timedelta(minutes=31)
                    self.pay(self.open())
                case "asks not to be told apart":
                    for _ in range(2):
                        self.open(**{"Sec-GPC": "1"})
                case "robot" | "preview":
                    self.open(leaves_out=self.way)
                case "fetches ahead":
                    self.open(leaves_out="ahead", **{"Sec-Purpose": "prefetch;prerender"})
                case "head":
                    self.open("HEAD", leaves_out="robot")
                case "robot that pays":
                    page = self.open(leaves_out="robot")
                    self.pay(page)
                    self.test.plan.left_out[self.at.date()]["robot"] -= 1
                    self.test.plan.rungs[self.key]["opened"] += 1

    @property
    def key(self) -> tuple[date, str, str]:
        return (self.at.astimezone(DUBLIN).date(), self.link.slug, self.spot.code)

    def open(self, method: str = "GET", *, counts: bool = True, leaves_out: str = "", **headers: str) -> str:
        page = get(self.test, self.path, self.agent, self.address, method, **headers)
        if leaves_out:
            self.test.plan.left_out[self.key[0]][leaves_out] += 1
        elif counts:
            self.test.plan.rungs[self.key]["opened"] += 1
        return page

    def begin(self, page: str) -> None:
        post(self.test, "/for/visit/started/", {"page": token_in(page)}, self.agent, self.address)
        self.reach("started")

    def pay(self, page: str) -> None:
        self.send(page, status=303)
        self.reach("started", "tried", "paid")
        self.test.plan.money[self.key] += 2400 if self.link == self.test.links[0] else 350

    def send(self, page: str, status: int | None = None, **changes: str) -> None:
        form = {"page": token_in(page), "name": "Maren", "email": f"b{self.number}@dunes.example"}
        form |= dict(re.findall(r'name="(seen_\w+)" value="([^"]*)"', page))
        form |= {"card_number": APPROVES, "expiry": "09/31", "security_code": "123", "agree": "yes"} | changes
        answered = post(self.test, f"{self.link.path}pay/", form, self.agent, self.address)
        if status:
            self.test.assertEqual(answered, status, self.way)

    def reach(self, *rungs: str) -> None:
        self.test.plan.rungs[self.key].update(rungs)


def get(test: TruthTest, path: str, agent: str, address: str, method: str = "GET", **headers: str) -> str:
    status, body = _asked(test, address, method, path, None, {"User-Agent": agent} | headers)
    test.assertEqual(status, 200, path)
    return body


def post(test: TruthTest, path: str, form: dict[str, str], agent: str, address: str) -> int:
    headers = {"User-Agent": agent, "Content-Type": "application/x-www-form-urlencoded"}
    return _asked(test, address, "POST", path, urllib.parse.urlencode(form), headers)[0]


def _asked(
    test: TruthTest, address: str, method: str, path: str, body: str | None, headers: dict[str, str]
) -> tuple[int, str]:
    """From a network address of the asker's own: all of 127/8 is this machine."""
    host = test.live_server_url.removeprefix("http://")
    connection = http.client.HTTPConnection(host, timeout=30, source_address=(address, 0))
    try:
        connection.request(method, path, body, headers)
        answer = connection.getresponse()
        return answer.status, answer.read().decode()
    finally:
        connection.close()


def token_in(page: str) -> str:
    found = re.search(r'name="page" value="([^"]+)"', page)
    assert found
    return found[1]


def table(response: Any) -> dict[str, tuple[tuple[int, ...], int]]:
    """Rungs and money by name, of a CSV."""
    head, *rows = b"".join(response.streaming_content).decode("utf-8-sig").splitlines()
    assert head.startswith("name,opened,started,tried,paid")
    cells = [row.split(",") for row in rows]
    return {row[0]: (tuple(map(int, row[1:5])), _minor(row[8].removesuffix(" EUR"))) for row in cells}


def of_command(figures: dict[str, Any]) -> tuple[tuple[int, ...], int]:
    rungs = tuple(figures[rung] for rung in ("opened", "started", "tried", "paid"))
    return rungs, _minor(figures["money"].get("EUR", ""))


def _minor(major: str) -> int:
    return int(major.replace(".", "") or "0")


def figures_on(page: str) -> dict[str, tuple[int, ...]]:
    """The ladder that stands beside each name on the page."""
    rows = page.split('class="result-row" role="row"')[1:]
    found = {}
    for row in rows:
        if name := re.search(r'class="spot-name"[^>]*>([^<]+)<', row):
            found[name[1]] = tuple(int(figure.replace(",", "")) for figure in re.findall(r"<dd>([\d,]+)</dd>", row)[:4])
    return found
