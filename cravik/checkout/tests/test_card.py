from __future__ import annotations

import io
import json
import re
from typing import Any

from django.test import TestCase
from PIL import Image

from cravik.checkout.card.content import Card
from cravik.checkout.card.drawing import drawn
from cravik.core.graphics.palette import USUAL
from cravik.links.bench.saving import change_part
from cravik.links.life import lifecycle
from cravik.links.models import Link
from cravik.setup.looks import LetterLook
from tests.factories import BROWSER, BY, NOW, make_draft, make_live


def card(**changes: Any) -> Card:
    usual = {"title": "Delta kite", "words": "", "price": "€48.00", "seller": "Windlestraw Kites"}
    return Card(**{**usual, "picture": "", "logo": "", "look": LetterLook.of(USUAL, "stall"), **changes})


class DrawingTest(TestCase):
    def test_it_has_the_size_that_apps_ask_for_and_changes_with_all_that_it_says(self) -> None:
        plain = drawn(card())
        self.assertEqual(Image.open(io.BytesIO(plain)).size, (1200, 630))
        others = [
            drawn(card(**each))
            for each in ({"title": "Sled"}, {"words": "By hand"}, {"price": "free"}, {"seller": "A"})
        ]
        self.assertEqual(len({plain, *others}), 5)
        self.assertEqual(len({card(title=name).key for name in "abc"}), 3)

    def test_whatever_is_written_it_stays_on_the_tag(self) -> None:
        for text in ("W" * 120, "凧を作る", "🪁", "Łódź " * 24, "a\u202eb\n\tc", "x " * 60):
            with self.subTest(text[:20]):
                picture = Image.open(io.BytesIO(drawn(card(title=text, words=text * 2, price=text, seller=text))))
                edge = picture.convert("RGB").crop((1150, 80, 1200, 440)).getcolors(100_000)
                self.assertLess(len(edge or ()), 60, "nothing is written beyond the edge of the tag")


class CardOfALinkTest(TestCase):
    def head(self, link: Link) -> dict[str, str]:
        page = self.client.get(link.path, headers={"user-agent": BROWSER}).content.decode()
        self.page = page
        return dict(re.findall(r'<meta (?:property|name)="([\w:]+)" content="([^"]*)"', page))

    def test_the_head_names_the_card_with_an_address_that_is_another_once_it_is_another(self) -> None:
        link = make_live()
        before = self.head(link)
        self.assertEqual((before["og:title"], before["description"][:6]), ("Kite repair", "€24.00"))
        self.assertTrue(before["og:image"].startswith("http://localhost"))
        picture = self.client.get(before["og:image"].partition("8000")[2])
        self.assertEqual((picture["Content-Type"], "immutable" in picture["Cache-Control"]), ("image/jpeg", True))
        change_part(
            link, "card", {"title": "Mended in a day", "words": 'By <hand> & "heart"'}, link.revision, NOW, by=BY
        )
        lifecycle.publish(link, NOW, by=BY)
        after = self.head(link)
        self.assertEqual(after["og:title"], "Mended in a day")
        self.assertEqual(after["og:description"], "By &lt;hand&gt; &amp; &quot;heart&quot;")
        self.assertNotEqual(after["og:image"], before["og:image"])
        old = self.client.get(before["og:image"].partition("8000")[2])
        self.assertEqual((old.status_code, "immutable" in old["Cache-Control"]), (200, False))

    def test_machines_read_the_offer_and_nothing_in_it_ends_the_element(self) -> None:
        link = make_live(purpose="</script><b>&")
        self.head(link)
        block = re.search(r'<script type="application/ld\+json">(.*?)</script>', self.page, re.S)
        assert block
        said = json.loads(block[1])
        self.assertEqual((said["name"], said["offers"]["price"]), ("</script><b>&", "24.00"))
        self.assertEqual(said["offers"]["priceCurrency"], "EUR")

    def test_a_draft_has_its_card_for_its_seller_alone(self) -> None:
        draft = make_draft()
        address = f"/for/rehearsal/{draft.pk}/card.jpg"
        self.assertEqual(self.client.get(address).status_code, 302)
        self.client.force_login(draft.business.members.get())
        self.assertEqual(self.client.get(address)["Content-Type"], "image/jpeg")
        self.assertEqual(self.client.get(f"/for/{draft.slug}/card.jpg").status_code, 404)
        page = self.client.get(f"/for/rehearsal/{draft.pk}/").content.decode()
        self.assertNotIn("og:image", page)
