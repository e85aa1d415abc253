"""Every address, parameter and field of the application, sent what nobody would: none is answered with a 500.

The values are drawn with a fixed seed, so that what was found once is found again; the whole is bounded in count.
"""

from __future__ import annotations

import random
import re
import sys
from collections.abc import Iterator
from contextlib import suppress
from html.parser import HTMLParser
from typing import Any

from django.core.files.uploadedfile import SimpleUploadedFile
from django.core.signals import got_request_exception
from django.db import transaction
from django.test import Client, TestCase, override_settings
from django.urls import NoReverseMatch, reverse

from cravik.catalogue.models import Picture
from cravik.catalogue.table_import import keep_table
from cravik.checkout.models import Checkout
from cravik.links.making.copies import make_link_of_item
from cravik.mailroom.models import Letter
from cravik.orders.models import Download, IssuedDocument, Order
from cravik.setup.look_services import make_look
from cravik.setup.terms import make_terms
from cravik.ui.spreadsheets import Table
from tests.addresses import named_addresses
from tests.factories import BROWSER, BY, NOW, MembershipFactory, make_draft, make_item, make_live
from tests.hostile import TEXTS
from tests.paying import APPROVES, pay_live
from tests.sampling import count_of

HOSTILE = [
    *("", " ", "0", "-1", "-0", "1", "9" * 18, "9" * 19, "9" * 5000, "1e309", "NaN", "Infinity", "0x10", "1_000"),
    *("٣", "𝟗", "½", "²", "Ⅷ", "1,5", "1.234,56", "12.3456", "−6", "+", "€ 1 234,50"),
    *("\x00", "a\x00b", "\u202e", "\u200b", "a@\u200b.de", "a@b", "@", "a@b@c.de", "🪁" * 300, "é" * 40, "ﬀ"),
    *("a" * 300, "b" * 20_000, "<script>alert(1)</script>", "'; DROP TABLE x; --", "%", "%00", "{x}", "{0}", "{{ x }}"),
    *("../../etc", "//evil.example", "http://[", "javascript:alert(1)", "https://a.example:99999/", "?", "#"),
    *("[]", "{}", "null", "true", "[[[[", '{"a":', "\\ud800", "=1+1", "yes", "on", "all", "none", "*"),
    *TEXTS,
    *("2026-02-30", "0000-00-00", "9999-12-31", "99999-01-01", "31 June", "24:00", "13/99", "00/00", "\n", "a\r\nb: c"),
]
#: What stands in fields that are empty at first, so that what follows them is reached.
FILLED = {
    **{"name": "Maren", "email": "maren@dunes.example", "card_number": APPROVES, "expiry": "09/31", "agree": "yes"},
    **{"security_code": "123", "title": "Kite", "price": "24", "purpose": "Kite repair", "amount": "24"},
}
#: Forms that stand on every page.
EVERYWHERE = ("/sign-out/", "/setup/choose/")
#: What addresses are asked for with beside what their forms send.
PARAMETERS = (
    "q",
    "page",
    "state",
    "rehearsals",
    "reference",
    "own",
    "next",
    "code",
    "level",
    "amount",
    "quantity",
    "kind",
)
ROUNDS, MAX_FORMS = count_of(5, 1), count_of(4, 2)


class _Form:
    """A form of a page: where it is sent, its fields as they stand there, and those for files."""

    def __init__(self, action: str) -> None:
        self.action = action
        self.fields: dict[str, str] = {}
        self.files: set[str] = set()

    def add(self, tag: str, named: dict[str, str | None]) -> None:
        name = named.get("name")
        if not name:
            return
        if named.get("type") == "file":
            self.files.add(name)
        elif named.get("type") not in ("radio", "checkbox") or "checked" in named or name not in self.fields:
            self.fields[name] = named.get("value") or FILLED.get(name, "")


class _Forms(HTMLParser):
    """The forms of a page. A field may stand outside of its form and name it."""

    def __init__(self, page: str, path: str) -> None:
        super().__init__()
        self.path = path
        self.forms: list[_Form] = []
        self.by_id: dict[str, _Form] = {}
        self.feed(page)

    def handle_starttag(self, tag: str, attrs: list[tuple[str, str | None]]) -> None:
        named = dict(attrs)
        if tag == "form" and named.get("method", "get") == "post":
            self.forms.append(_Form(named.get("action") or self.path))
            self.by_id[named.get("id") or ""] = self.forms[-1]
        elif tag in ("input", "select", "textarea", "button") and self.forms:
            self.by_id.get(named.get("form") or "", self.forms[-1]).add(tag, named)


@override_settings(CRAVIK_OPEN_SIGN_UP=True)
class FuzzTest(TestCase):
    @classmethod
    def setUpTestData(cls) -> None:
        member = MembershipFactory()
        cls.user, business = member.user, member.business
        client = Client()
        cls.link = make_live(business)
        item = make_item(business, "Delta kite", code="DELTA", choices={"Span": ("1.2 m", "1.8 m")})
        made = make_link_of_item(business, item, item.price, NOW, by=BY)
        pay_live(client, cls.link)
        checkout = Checkout.objects.get()
        cls.ids: dict[str, list[object]] = {
            "link_id": [cls.link.pk, made.pk, make_draft(business, "Box kite").pk],
            "item_id": [item.pk],
            "picture_id": [picture.pk for picture in Picture.objects.all()] or [1],
            "look_id": [make_look(business, NOW, by=BY).pk],
            "terms_id": [make_terms(business, "Terms", "x", NOW, by=BY).pk],
            "upload_id": [keep_table(business, "t.csv", Table(["name"], [(2, ["x"])]), NOW).pk],
            "order_id": [Order.objects.get().pk],
            "number": [Order.objects.get().number],
            "letter_id": [Letter.objects.earliest("id").pk],
            "checkout_id": [checkout.pk],
            "document_id": [IssuedDocument.objects.get().pk],
            "ending": ["pdf", "xml"],
            "business_id": [business.pk],
            "opens": ["x"],
            "slug": [cls.link.slug],
            "code": [cls.link.spots.get().code],
            "reference": [checkout.reference],
            "key": [download.key for download in Download.objects.all()] or ["x"],
            "subject": ["tax", "delivery", "fee", "look", "conditions", "contact"],
            "kind": ["receipt", "svg", "png", "sale_notice"],
            "name": ["publish", "pause", "default", "remove", "archive", "x"],
        }

    def setUp(self) -> None:
        self.chance = random.Random(11)
        self.trouble: list[str] = []
        self.raised, self.asked = "", 0
        got_request_exception.connect(self.note)
        self.addCleanup(got_request_exception.disconnect, self.note)

    def note(self, **about: Any) -> None:
        error = sys.exc_info()[1]
        self.raised = f"{type(error).__name__}: {str(error)[:200]}"

    def test_no_address_parameter_or_field_is_answered_with_a_500(self) -> None:
        for signed_in in (True, False):
            client = Client(raise_request_exception=False, headers={"user-agent": BROWSER})
            for name, arguments in named_addresses().items():
                for path in self.paths(name, arguments):
                    if signed_in:  # some addresses sign out
                        client.force_login(self.user)
                    self.ask_in_every_way(client, path)
        self.assertEqual(self.trouble, [])
        self.assertGreater(self.asked, 1_000)

    def paths(self, name: str, arguments: list[str]) -> Iterator[str]:
        """The address with what is there, and with what is not."""
        path = ""
        for _ in range(2 if arguments else 1):
            chosen = {key: self.chance.choice(self.ids.get(key, ["x"])) for key in arguments}
            with suppress(NoReverseMatch):  # not every value goes with every address
                path = reverse(name, kwargs=chosen)
                yield path
        if path and arguments:
            hostile = self.chance.choice(
                [value for value in HOSTILE if value and "/" not in value and len(value) < 6000]
            )
            yield re.sub(r"[^/]+(?=/(?:[a-z-]+/)*$)", lambda _: hostile, path, count=1)

    def ask_in_every_way(self, client: Client, path: str) -> None:
        shown = self.ask(client, "get", path, {})
        forms: list[_Form] = []
        if not shown.streaming and "html" in shown.get("Content-Type", ""):
            forms = _Forms(shown.content.decode(), path).forms
        own = [form for form in forms if form.fields and form.action not in EVERYWHERE]
        forms = own[:MAX_FORMS] or [_Form(path)]
        for _ in range(2):
            self.ask(client, "get", path, {name: self.hostile() for name in self.chance.sample(PARAMETERS, 3)})
        for form in forms:
            for _ in range(ROUNDS if form.fields else 2):
                self.ask(client, "post", form.action, self.mutated(form))
        self.ask(client, "post", path, {})

    def mutated(self, form: _Form) -> dict[str, Any]:
        """The form with some fields changed, some missing, some twice, and files that are none."""
        sent: dict[str, Any] = dict(form.fields) or dict.fromkeys(("act", "name", "value"), "x")
        for name in self.chance.sample(sorted(sent), self.chance.randint(1, max(1, len(sent) // 3))):
            match self.chance.randrange(8):
                case 0:
                    del sent[name]
                case 1:
                    sent[name] = [self.hostile(), self.hostile()]
                case _:
                    sent[name] = self.hostile()
        for name in form.files:
            sent[name] = SimpleUploadedFile(self.chance.choice(["x.csv", "x.png", "../x", "ü.webp"]), self.bytes())
        return sent

    def hostile(self) -> str:
        return self.chance.choice(HOSTILE)

    def bytes(self) -> bytes:
        return self.chance.choice(
            [b"", b"\x00" * 50, b"\xff\xfe,\n", b"name\n\x00\n", b"\x89PNG\r\n\x1a\n", b"name,name\nx"]
        )

    def ask(self, client: Client, method: str, path: str, data: dict[str, Any]) -> Any:
        """One request, whose changes are undone."""
        self.raised, self.asked = "", self.asked + 1
        with transaction.atomic():
            answer = getattr(client, method)(path, data)
            transaction.set_rollback(True)
        if answer.status_code == 500 or self.raised:
            self.trouble.append(f"{method} {path[:120]} {str(data)[:300]}: {self.raised}")
        return answer
