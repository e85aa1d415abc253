from __future__ import annotations

import io
import re

import zxingcpp
from django.test import TestCase
from PIL import Image

from cravik.share.qr import QUIET_ZONE_MODULES, qr_png, qr_svg
from tests.factories import MembershipFactory, make_live

ADDRESS = "https://kites.example/for/delta-kite/"


class QrTest(TestCase):
    def test_the_picture_reads_as_the_address_at_every_length(self) -> None:
        for address in (ADDRESS, "http://localhost:8000/for/a/", f"https://kites.example/for/{'kite-' * 12}"):
            with self.subTest(address):
                picture = Image.open(io.BytesIO(qr_png(address)))
                self.assertEqual([found.text for found in zxingcpp.read_barcodes(picture)], [address])
                self.assertGreaterEqual(picture.width, 1024)

    def test_it_still_reads_small_and_smudged(self) -> None:
        picture = Image.open(io.BytesIO(qr_png(ADDRESS))).convert("L")
        width = picture.width
        picture.paste(255, (int(width * 0.62), int(width * 0.62), int(width * 0.75), int(width * 0.75)))
        self.assertEqual(zxingcpp.read_barcodes(picture.resize((180, 180)))[0].text, ADDRESS)

    def test_the_quiet_zone_is_four_modules_of_white(self) -> None:
        picture = Image.open(io.BytesIO(qr_png(ADDRESS))).convert("L")
        dark = picture.point(lambda value: 255 * (value < 128)).getbbox()
        modules = int(re.search(r'viewBox="0 0 (\d+) ', qr_svg(ADDRESS))[1]) // 8
        scale = picture.width // modules
        self.assertEqual(dark[:2], (QUIET_ZONE_MODULES * scale, QUIET_ZONE_MODULES * scale))


class HandOutTest(TestCase):
    def setUp(self) -> None:
        self.member = MembershipFactory()
        self.link = make_live(self.member.business, 'A "kite" & <b>tail</b>')
        self.client.force_login(self.member.user)

    def test_address_code_and_button_lead_to_the_same_place(self) -> None:
        page = self.client.get(f"/links/{self.link.pk}/hand-out/")
        self.assertContains(page, f"http://localhost:8000{self.link.path}")
        code = self.client.get(f"/links/{self.link.pk}/qr.png?download")
        self.assertIn("attachment", code["Content-Disposition"])
        read = zxingcpp.read_barcodes(Image.open(io.BytesIO(code.content)))[0].text
        self.assertEqual(read, f"http://localhost:8000{self.link.path}")
        self.assertIn(f'href="{read}"', page.context["button"].html)
        self.assertEqual(self.client.get(f"/links/{self.link.pk}/qr.svg")["Content-Type"], "image/svg+xml")

    def test_what_is_pasted_is_what_is_shown_and_is_safe(self) -> None:
        button = self.client.get(f"/links/{self.link.pk}/hand-out/").context["button"]
        self.assertIn("Pay €24.00 for A &quot;kite&quot; &amp; &lt;b&gt;tail&lt;/b&gt;</a>", button.html)
        preview = self.client.get(f"/links/{self.link.pk}/button/")
        self.assertContains(preview, button.html)
        self.assertIn(button.style_hash, preview["Content-Security-Policy"])
        self.assertNotIn("unsafe-inline", preview["Content-Security-Policy"])
