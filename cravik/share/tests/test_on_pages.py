"""What pages of others are told of a spot, the plain button, and where a button was seen."""

from __future__ import annotations

import gzip
import hashlib
import io
from datetime import timedelta
from pathlib import Path
from typing import Any

from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import TestCase
from django.utils import timezone
from PIL import Image

from cravik.catalogue.tests.photos import photo
from cravik.core.graphics.button import ButtonDesign
from cravik.core.graphics.contrast import Colour
from cravik.links.life.lifecycle import pause, publish
from cravik.links.life.shown_version import shown_to_buyers
from cravik.links.models import Link
from cravik.links.places.spots import end_spot, make_spot
from cravik.setup.looks import ShownLook
from cravik.share.models import Sighting
from cravik.share.on_pages import views
from cravik.share.on_pages.designs import button_held, face_in, keep_button
from cravik.share.on_pages.pasting import Pasting
from cravik.share.on_pages.plain import plain_button
from cravik.share.on_pages.sightings import MAX_SITES_SEEN, _written, asking_for, note_seen, seen_at
from tests.factories import BY, NOW, MembershipFactory, change_price, make_draft, make_live

KITES = {"origin": "https://www.kites.example"}


class SaidTest(TestCase):
    def setUp(self) -> None:
        _written.clear()
        self.link = make_live()
        self.spot = make_spot(self.link, "Club page", NOW, by=BY)
        self.address = f"{self.spot.path}on-page/1.json"

    def ask(self, **headers: str) -> Any:
        self.answer = self.client.get(self.address, headers=headers)
        return self.answer.json()

    def design(self, **chosen: Any) -> None:
        held = button_held(self.spot.pk)
        keep_button(self.spot, ButtonDesign(**chosen), None, held.revision, timezone.now(), by=BY)

    def test_it_says_what_buyers_see_and_nothing_more(self) -> None:
        said = self.ask()
        self.assertEqual(said.keys(), {"version", "shows", "words", "address", "opens", "frame", "face"})
        self.assertEqual(said["words"], "Pay €24.00 for Kite repair")
        self.assertEqual(said["address"], f"http://testserver{self.spot.path}", "where it was asked")
        self.assertEqual(said["frame"], f"{said['address']}?in=page")
        self.assertEqual(self.answer["Access-Control-Allow-Origin"], "*")
        self.assertFalse(self.answer.cookies)
        for path in (f"/k/XXXXXX/{self.address[-14:]}", make_spot(make_draft(), "None yet", NOW, by=BY).path):
            self.assertEqual(self.client.get(path).status_code, 404)

    def test_an_answer_is_kept_and_its_tag_is_the_version_s(self) -> None:
        self.ask()
        tag = self.answer["ETag"]
        self.assertTrue(tag.startswith(f'"{self.link.version_id}-'))
        again = self.client.get(self.address, headers={"if-none-match": tag})
        self.assertEqual(
            (again.status_code, again["Cache-Control"], again["Vary"]), (304, "public, max-age=60", "Origin")
        )
        publish(change_price(self.link, 2600), timezone.now(), by=BY)
        self.assertEqual(self.ask()["words"], "Pay €26.00 for Kite repair")
        self.assertNotEqual(self.answer["ETag"], tag)

    def test_a_site_that_is_not_allowed_gets_a_plain_link(self) -> None:
        self.design(shows="form")
        said = self.ask(**KITES)
        self.assertEqual((said["shows"], said["opens"], "frame" in said), ("button", "same", False))
        self.assertEqual([(each.host, each.is_allowed) for each in seen_at(self.spot)], [("kites.example", False)])
        self.assertEqual([each.spot for each in asking_for(self.link)], [self.spot])
        self.client.force_login(MembershipFactory(business=self.link.business).user)
        sites = f"/links/{self.link.pk}/sites/"
        told = self.client.post(sites, {"refuse": "kites.example"}, follow=True)
        self.assertNotContains(told, "asked for a button of this link")
        self.assertContains(
            self.client.post(sites, {"site": "no site"}, follow=True), "Not added. Write a site such as"
        )
        self.client.post(sites, {"site": "https://kites.example/shop"})
        self.assertIn("frame", self.ask(**KITES))
        self.assertEqual([(each.host, each.is_allowed) for each in seen_at(self.spot)], [("kites.example", True)])
        self.assertEqual(asking_for(self.link), [])
        self.assertIn("frame", self.ask(origin="http://testserver"), "the application's own pages")
        self.assertNotIn("frame", self.ask(origin="null"))
        self.assertContains(
            self.client.post(sites, {"remove": "kites.example"}, follow=True), "is a plain link from now on"
        )
        self.client.post("/setup/sites/", {"site": "kites.example", "subdomains": "on"})
        self.assertIn("frame", self.ask(origin="https://shop.kites.example"))
        self.assertContains(self.client.post("/setup/sites/", {"site": ""}), "Write a site such as", status_code=400)
        self.client.post("/setup/sites/", {"remove": "kites.example"})
        self.assertNotIn("frame", self.ask(**KITES))

    def test_what_can_t_be_bought_now_says_so(self) -> None:
        self.design(words="Mend mine")
        self.assertEqual(self.ask()["words"], "Mend mine, €24.00")
        pause(self.link, timezone.now(), by=BY)
        self.assertEqual(self.ask()["words"], "Kite repair: back soon")

    def test_an_ended_spot_leads_on(self) -> None:
        end_spot(self.spot, "https://kites.example/new", NOW, by=BY)
        self.assertNotIn("frame", self.ask())

    def test_a_card_has_what_a_card_shows(self) -> None:
        self.design(shows="card", opens="new")
        card = self.ask()["card"]
        self.assertEqual(
            (card["title"], card["price"], card["seller"]), ("Kite repair", "€24.00", self.link.business.name)
        )

    def test_where_it_was_seen_is_written_once_a_minute_and_never_without_end(self) -> None:
        now = timezone.now()
        for seconds in (0, 30, 90):
            note_seen(self.spot.pk, "kites.example", now + timedelta(seconds=seconds), is_allowed=True)
        seen = Sighting.objects.get()
        self.assertEqual(seen.last_at - seen.first_at, timedelta(seconds=90))
        for number in range(MAX_SITES_SEEN + 5):
            note_seen(self.spot.pk, f"{number}.example", now, is_allowed=False)
        note_seen(self.spot.pk, "reef.example", now, is_allowed=True)
        self.assertEqual(Sighting.objects.count(), MAX_SITES_SEEN + 1)
        self.ask(origin="https://<b>")
        self.ask(origin="nonsense")
        self.assertEqual(Sighting.objects.count(), MAX_SITES_SEEN + 1)

    def test_the_script_is_the_one_that_its_modules_make(self) -> None:
        modules = sorted((views.SCRIPT.parent.parent / "script").glob("*.js"), key=lambda each: each.name)
        made_of = hashlib.sha256(b"".join(each.read_bytes() for each in modules)).hexdigest()[:16]
        self.assertIn(made_of, views.SCRIPT.read_text().partition("\n")[0], "run `make vendor`")
        for module in modules:
            self.assertLess(len(module.read_text().splitlines()), 150, Path(module).name)
        plain = self.client.get("/on-page/1.js")
        packed = self.client.get("/on-page/1.js", headers={"accept-encoding": "gzip, br"})
        self.assertEqual(gzip.decompress(packed.content), plain.content)
        self.assertLess(len(packed.content), 12_000)
        again = self.client.get("/on-page/1.js", headers={"if-none-match": plain["ETag"]})
        self.assertEqual(again.status_code, 304)


class PlainButtonTest(TestCase):
    def setUp(self) -> None:
        self.link = make_live(purpose='A "kite" & <b>tail</b>')
        self.spot = make_spot(self.link, "Newsletter", NOW, by=BY)

    def test_the_picture_is_drawn_light_and_dark_with_the_words_of_now(self) -> None:
        keep_button(self.spot, ButtonDesign(ground=Colour(20, 20, 60), corners="pill"), None, 0, NOW, by=BY)
        address = f"{self.spot.path}on-page/button.png"
        light, dark = (self.client.get(f"{address}{query}") for query in ("", "?on=dark"))
        image = Image.open(io.BytesIO(light.content))
        self.assertEqual((image.mode, image.getpixel((0, 0))[3]), ("RGBA", 0), "clear around its corners")
        self.assertEqual(image.getpixel((image.width // 2, 4)), (20, 20, 60, 255))
        self.assertEqual(Image.open(io.BytesIO(dark.content)).getpixel((image.width // 2, 4)), (255, 255, 255, 255))
        self.assertEqual(self.client.get(address, headers={"if-none-match": light["ETag"]}).status_code, 304)
        publish(change_price(self.link, 2600), timezone.now(), by=BY)
        self.assertNotEqual(self.client.get(address).content, light.content)

    def test_what_no_letters_are_here_for_is_not_drawn(self) -> None:
        link = make_live(purpose="Ремонт змеев")
        spot = make_spot(link, "Newsletter", NOW, by=BY)
        self.client.force_login(MembershipFactory(business=link.business).user)
        page = self.client.get(f"/links/{link.pk}/spots/{spot.pk}/page/?way=newsletter&kind=drawn")
        self.assertContains(page, "offered as text only")
        self.assertEqual(page.context["kind"], "text")
        self.assertEqual(self.client.get(f"{spot.path}on-page/button.png").status_code, 200)

    def test_each_kind_is_one_element_with_its_words_as_text(self) -> None:
        held, shown = button_held(self.spot.pk), self.client.get(f"{self.spot.path}on-page/1.json").json()
        version = shown_to_buyers(self.link)
        assert version
        for kind in ("text", "drawn", "own"):
            button = plain_button(Pasting(version, held, "https://pay.example", self.spot.code), kind)
            self.assertTrue(button.html.startswith(f'<a href="https://pay.example{self.spot.path}" style="'), kind)
            self.assertTrue(button.html.endswith("</a>"))
            self.assertIn("A &quot;kite&quot; &amp; &lt;b&gt;tail&lt;/b&gt;", button.html)
            self.assertEqual(button.label, shown["words"])
        self.assertEqual(face_in(held.design, ShownLook()).ground.hex, "#a63a28")


class DesignTest(TestCase):
    def setUp(self) -> None:
        self.member = MembershipFactory()
        self.link = make_live(self.member.business)
        self.spot = make_spot(self.link, "Newsletter", NOW, by=BY)
        self.client.force_login(self.member.user)
        self.page = f"/links/{self.link.pk}/spots/{self.spot.pk}/"
        self.typed = {**ButtonDesign().document, "ground": "", "ink": "", "says_price": "on", "revision": "0"}

    def test_a_design_is_kept_over_the_one_that_was_seen(self) -> None:
        self.client.post(f"{self.page}button/", self.typed | {"words": "Mend mine", "ground": "#123"})
        self.assertEqual(button_held(self.spot.pk).design, ButtonDesign(words="Mend mine", ground=Colour(17, 34, 51)))
        stale = self.client.post(f"{self.page}button/", self.typed | {"words": "Other"})
        self.assertEqual(stale.status_code, 409)
        self.assertContains(stale, 'value="Other"', status_code=409)
        self.assertEqual(button_held(self.spot.pk).design.words, "Mend mine")

    def test_words_that_cannot_be_read_are_refused_with_the_nearest_colour_that_can(self) -> None:
        pale = self.typed | {"ground": "#ffee88", "ink": "#ffffff"}
        refused = self.client.post(f"{self.page}button/", pale)
        self.assertContains(refused, "These words can&#x27;t be read on that colour.", status_code=400)
        mended = self.client.post(f"{self.page}button/", pale | {"mend": "ink", "words": "Kept"})
        self.assertTrue(mended.context["face"].is_legible)
        self.assertContains(mended, 'value="Kept"')
        wrong = self.client.post(f"{self.page}button/", pale | {"ground": "blue", "shows": "x", "words": "x" * 61})
        self.assertEqual(set(wrong.context["form"].errors), {"ground", "shows", "words"})
        shown = self.client.post(f"{self.page}button/shown/", pale | {"revision": ""})
        self.assertContains(shown, "At least 4.5 : 1 is needed")

    def test_a_picture_of_one_s_own_outlives_a_form_that_was_wrong(self) -> None:
        file = SimpleUploadedFile("b.png", photo((400, 120), "PNG"), "image/png")
        wrong = self.client.post(f"{self.page}button/", self.typed | {"words": "x" * 61, "picture": file})
        kept = wrong.context["kept_picture"]
        self.assertTrue(kept)
        mended = self.client.post(f"{self.page}button/", self.typed | {"mend": "ink", "kept_picture": kept})
        self.assertTrue(mended.context["kept_picture"])
        self.client.post(f"{self.page}button/", self.typed | {"kept_picture": kept})
        page = self.client.get(f"{self.page}page/?way=newsletter&kind=own")
        self.assertContains(page, "/pictures/")
        self.assertContains(self.client.get(f"{self.page}page/plain/own/"), '<img src="http://localhost:8000/pictures/')
        taken = SimpleUploadedFile("b.png", b"no picture", "image/png")
        refused = self.client.post(f"{self.page}button/", self.typed | {"revision": "1", "picture": taken})
        self.assertContains(refused, "“b.png” was not taken.", status_code=400)
        goes = self.typed | {"revision": "1", "remove_picture": "on"}
        wrong = self.client.post(f"{self.page}button/", goes | {"words": "x" * 61})
        self.assertTrue(wrong.context["form"]["remove_picture"].value(), "still ticked")
        self.client.post(f"{self.page}button/", goes)
        self.assertIsNone(button_held(self.spot.pk).picture)

    def test_what_is_tried_says_what_the_draft_would(self) -> None:
        tried = self.client.get(self.page).context["tried"]
        self.assertContains(self.client.get(tried), f'at="{tried}"', count=5)
        said = self.client.get(f"{tried}on-page/1.json").json()
        self.assertEqual(said["frame"], f"http://testserver/for/rehearsal/{self.link.pk}/?in=page")
        self.assertEqual(self.client.get(f"{self.page}button/tried/x/").status_code, 404)

    def test_a_draft_that_is_not_finished_has_no_button_yet(self) -> None:
        draft = make_draft(self.member.business)
        Link.objects.filter(id=draft.pk).update(effective=None)
        page = f"/links/{draft.pk}/spots/{draft.spots.get().pk}/"
        self.assertNotContains(self.client.get(page), "Put it on a page")
        self.assertEqual(self.client.get(f"{page}page/").status_code, 404)
        self.assertContains(self.client.get(f"{page}button/"), "The draft is not finished")
