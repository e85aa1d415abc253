from __future__ import annotations

import io
import tempfile
import time
from pathlib import Path
from typing import Any

from django.http import HttpResponse
from django.test import SimpleTestCase, TestCase, override_settings
from PIL import Image

from cravik.catalogue.models import Option, Picture
from cravik.catalogue.tests.photos import BUSY_CAMERA, animated, bomb, photo, turned_photo, upload
from cravik.catalogue.tests.test_items import group, sheet
from cravik.ui.photo import PhotoRefused, Prepared, prepare
from tests.factories import MembershipFactory, make_item


def prepared(content: bytes) -> Prepared:
    return prepare(io.BytesIO(content), len(content))


class PhotoTest(SimpleTestCase):
    def test_a_photo_becomes_three_pictures_and_none_is_enlarged(self) -> None:
        for size, widths in (((3000, 2000), {320, 800, 1600}), ((700, 500), {320, 700}), ((200, 100), {200})):
            with self.subTest(size):
                made = prepared(photo(size))
                self.assertEqual(((made.width, made.height), set(made.files)), (size, widths))
                for width, content in made.files.items():
                    picture = Image.open(io.BytesIO(content))
                    self.assertEqual((picture.format, picture.width), ("WEBP", width))

    def test_it_is_turned_upright_and_tells_nothing_of_itself(self) -> None:
        content = turned_photo()
        self.assertIn(BUSY_CAMERA.encode(), content)
        made = prepared(content)
        self.assertEqual((made.width, made.height), (900, 1200))
        small = Image.open(io.BytesIO(made.files[320])).convert("RGB")
        # The red half, on the left of the file, is on top of the upright photo.
        self.assertGreater(small.getpixel((160, 50))[0], 150)
        self.assertLess(small.getpixel((160, 350))[0], 60)
        for file in made.files.values():
            self.assertNotIn(BUSY_CAMERA.encode(), file)
            self.assertFalse(Image.open(io.BytesIO(file)).getexif())

    def test_formats_and_transparency(self) -> None:
        for kind in ("JPEG", "PNG", "WEBP"):
            self.assertEqual(prepared(photo(kind=kind)).width, 1200)
        clear = io.BytesIO()
        Image.new("RGBA", (100, 100), (0, 0, 0, 0)).save(clear, "PNG")
        self.assertEqual(Image.open(io.BytesIO(prepared(clear.getvalue()).files[100])).mode, "RGBA")
        grey = io.BytesIO()
        Image.new("CMYK", (100, 100)).save(grey, "JPEG")
        self.assertEqual(prepared(grey.getvalue()).width, 100)

    def test_what_is_hostile_or_broken_is_refused_in_words_and_quickly(self) -> None:
        begun = time.monotonic()
        for told, content in {
            "megapixels": bomb(),
            "the most is 50": bomb(7100),
            "not a JPEG, PNG or WebP": b"<script>alert(1)</script>",
            "damaged": photo()[:4000],
            "animated": animated("WEBP"),
            "still picture": animated("PNG"),
            "not a JPEG": animated("GIF"),
            "the least is 40": photo((39, 400)),
            "is not a JPEG": b"",
            "damaged or": bomb(1000),
        }.items():
            with self.subTest(told), self.assertRaisesRegex(PhotoRefused, told):
                prepared(content)
        with self.assertRaisesRegex(PhotoRefused, "21 MB; the most is 20 MB"):
            prepare(io.BytesIO(), 21_000_000)
        self.assertLess(time.monotonic() - begun, 5)

    def test_a_wide_panorama_is_taken(self) -> None:
        made = prepared(photo((12_000, 1500), quality=95))
        self.assertEqual((made.width, made.height, set(made.files)), (12_000, 1500, {320, 800, 1600}))


class PicturesOfAnItemTest(TestCase):
    def setUp(self) -> None:
        self.folder = Path(self.enterContext(tempfile.TemporaryDirectory()))
        self.enterContext(override_settings(CRAVIK_PICTURES=self.folder))
        self.member = MembershipFactory()
        self.client.force_login(self.member.user)
        self.item = make_item(self.member.business, choices={"Colour": ("red",)})
        self.address = f"/catalogue/{self.item.pk}/pictures/"

    def add(self, *contents: bytes, **more: Any) -> HttpResponse:
        return self.client.post(self.address, {"photo": [upload(content) for content in contents]}, **more)

    def change(self, picture: Picture, act: str, **more: Any) -> HttpResponse:
        sent = {f"picture-{picture.pk}-{name}": value for name, value in more.items()}
        return self.client.post(f"{self.address}{picture.pk}/", {"act": act} | sent)

    def test_it_is_added_shown_and_served_to_anybody(self) -> None:
        self.add(photo(), photo((500, 400)))
        first, second = self.item.pictures.all()
        page = self.client.get(f"/catalogue/{self.item.pk}/")
        self.assertContains(page, f'src="{first.small}"')
        self.assertContains(self.client.get("/catalogue/"), f'src="{first.small}"')
        self.client.logout()
        answer = self.client.get(second.small)
        self.assertEqual((answer["Content-Type"], answer["X-Content-Type-Options"]), ("image/webp", "nosniff"))
        self.assertIn("immutable", answer["Cache-Control"])
        self.assertEqual(Image.open(io.BytesIO(b"".join(answer.streaming_content))).width, 320)
        self.assertEqual(second.sources.split()[1::2], ["320w,", "500w"])
        for path in (
            f"/pictures/{'0' * 32}-320.webp",
            f"/pictures/..%2f{first.name}-320.webp",
            f"/pictures/{first.name}-9.webp",
        ):
            self.assertEqual(self.client.get(path).status_code, 404)

    def test_a_thirteenth_is_refused_and_a_broken_one_leaves_no_file(self) -> None:
        self.add(*[photo((60, 60))] * 11)
        answer = self.add(photo((60, 60)), photo((60, 60)), HTTP_ACCEPT="application/json")
        self.assertEqual((answer.status_code, self.item.pictures.count()), (400, 12))
        self.assertIn("12 pictures at most", answer.json()["refused"])
        self.item.pictures.last().delete()
        before = len(list(self.folder.iterdir()))
        answer = self.add(photo()[:3000], HTTP_ACCEPT="application/json")
        self.assertIn("“kite.jpg” was not taken. The file is damaged", answer.json()["refused"])
        self.assertEqual(len(list(self.folder.iterdir())), before)
        self.assertEqual(self.add(photo((60, 60)), HTTP_ACCEPT="application/json").status_code, 201)
        self.assertContains(self.client.post(self.address, follow=True), "Choose a picture first.")

    def test_they_are_described_ordered_and_removed_with_their_files(self) -> None:
        self.add(*[photo((60, 60))] * 3)
        one, two, three = self.item.pictures.all()
        self.change(three, "earlier")
        self.assertEqual(list(self.item.pictures.all()), [one, three, two])
        self.change(one, "later")
        self.change(one, "later")
        self.change(one, "later")
        self.assertEqual(list(self.item.pictures.all()), [three, two, one])
        self.client.post(f"{self.address}order/", {"order": f"{two.pk},{one.pk},999,{two.pk}"})
        self.assertEqual(list(self.item.pictures.all()), [two, one, three])
        self.assertEqual(self.client.post(f"{self.address}order/", {"order": "x"}).status_code, 400)
        self.change(one, "describe", words="<b>A delta\nkite</b>", focus_x=30, focus_y=100)
        one.refresh_from_db()
        self.assertEqual((one.words, one.focus_x, one.focus_y), ("<b>A delta kite</b>", 30, 100))
        self.assertContains(self.client.get(f"/catalogue/{self.item.pk}/"), "focus-x-30 focus-y-100")
        self.change(one, "describe", words="x" * 201, focus_x=30, focus_y=100)
        self.change(one, "describe", words="", focus_x=31, focus_y=100)
        one.refresh_from_db()
        self.assertEqual(one.words, "<b>A delta kite</b>")
        self.change(one, "remove")
        self.assertEqual(self.item.pictures.count(), 2)
        self.assertFalse([file for file in self.folder.iterdir() if file.name.startswith(one.name)])

    def test_an_option_shows_a_picture_of_its_own_item(self) -> None:
        self.add(photo((60, 60)))
        own = self.item.pictures.get()
        option = Option.objects.get()
        sent = sheet(revision=1, **group(0, "Colour", ("red", ""), ids=(option.pk,)))
        self.client.post(f"/catalogue/{self.item.pk}/", sent | {"choice-0-option-0-picture_id": own.pk})
        option.refresh_from_db()
        self.assertEqual(option.picture, own)
        foreign = self.client.post(
            f"/catalogue/{self.item.pk}/", sent | {"choice-0-option-0-picture_id": own.pk + 1, "revision": 2}
        )
        self.assertEqual(foreign.status_code, 400)
        self.change(own, "remove")
        option.refresh_from_db()
        self.assertIsNone(option.picture)

    @override_settings(FILE_UPLOAD_HANDLERS=["cravik.ui.uploads.BoundedUploadHandler"])
    def test_what_announces_too_much_is_not_even_read(self) -> None:
        answer = self.client.post(self.address, {"photo": upload(photo())}, CONTENT_LENGTH="170000001")
        self.assertEqual(answer.status_code, 400)
