"""oEmbed: what an editor learns of a link's address, found from the page itself."""

from __future__ import annotations

import re
from typing import Any
from urllib.parse import quote

from django.test import TestCase
from django.utils import timezone

from cravik.links.life.lifecycle import pause
from cravik.links.places.spots import make_spot
from cravik.setup.models import HostName
from tests.factories import BROWSER, BY, NOW, BusinessFactory, make_draft, make_live

ENDPOINT = "/for/card/oembed.json"


class OEmbedTest(TestCase):
    def setUp(self) -> None:
        self.link = make_live()
        self.spot = make_spot(self.link, "Club page", NOW, by=BY)

    def ask(self, path: str, more: str = "", host: str = "testserver", **headers: str) -> Any:
        url = quote(f"http://{host}{path}", safe="")
        return self.client.get(f"{ENDPOINT}?url={url}{more}", headers={"host": host} | headers)

    def test_a_page_leads_to_what_an_editor_is_told_of_it(self) -> None:
        page = self.client.get(self.spot.path, headers={"user-agent": BROWSER})
        found = re.fullmatch(r'<http://testserver(.+)>; rel="alternate"; type="application/json\+oembed"', page["Link"])
        assert found
        answer = self.client.get(found[1])
        said = answer.json()
        self.assertEqual((said["version"], said["type"], said["author_name"]), ("1.0", "link", self.link.business.name))
        self.assertEqual(said["title"], "Kite repair, €24.00")
        self.assertIn(f"/for/{self.link.slug}/card.jpg?card=", said["thumbnail_url"])
        self.assertEqual(answer["Access-Control-Allow-Origin"], "*")
        again = self.client.get(found[1], headers={"if-none-match": answer["ETag"]})
        self.assertEqual((again.status_code, again.content), (304, b""))

    def test_bounds_and_formats_are_kept_to(self) -> None:
        cases = (("&maxwidth=600", False), ("&maxwidth=1200&maxheight=630", True), ("&maxwidth=x", True))
        for more, has_picture in cases:
            self.assertEqual("thumbnail_url" in self.ask(self.link.path, more).json(), has_picture, more)
        self.assertEqual(self.ask(self.link.path, "&format=xml").status_code, 501)

    def test_what_is_not_sold_here_is_not_told(self) -> None:
        draft = make_draft(self.link.business)
        for path in (draft.path, "/for/nothing/", "/k/XXXXXX/", "/orders/", "/", ""):
            self.assertEqual(self.ask(path).status_code, 404, path)
        elsewhere = "?url=http://elsewhere.example/for/kite-repair/"
        for query in ("", "?url=", elsewhere, "?url=http://[", "?url=//testserver"):
            self.assertEqual(self.client.get(f"{ENDPOINT}{query}").status_code, 404, query)
        pause(self.link, timezone.now(), by=BY)
        self.assertEqual(self.ask(self.link.path).status_code, 404)

    def test_at_a_business_s_own_name_it_tells_of_its_links_alone(self) -> None:
        own, other = self.link.business, BusinessFactory()
        for business, name in ((own, "pay.own.example"), (other, "pay.other.example")):
            HostName.objects.create(business=business, name=name, key="k", made_at=NOW, pointed_at=NOW, is_main=True)
        said = self.ask(self.link.path, host="pay.own.example").json()
        self.assertEqual(said["provider_name"], "pay.own.example")
        self.assertEqual(self.ask(self.link.path, host="pay.other.example").status_code, 404)
