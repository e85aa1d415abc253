"""Results in a real browser: buyers come, touch fields and go; their seller sees where, by keys and on a phone."""

from __future__ import annotations

from django.utils import timezone

from cravik.journal.models import FieldPath, Visit
from cravik.links.making.documents import import_link
from cravik.links.models import Link
from cravik.links.places.spots import make_spot
from tests.browser.base import PHONE, BrowserTestCase, fill_in
from tests.factories import BY
from tests.links import document

_QUESTION = {"key": "school", "kind": "short_text", "label": "Which school?"}


class ResultsTest(BrowserTestCase):
    def setUp(self) -> None:
        super().setUp()
        asked = document(questions=[_QUESTION])
        self.link: Link = import_link(self.business, asked, timezone.now(), published=True, by=BY)
        self.sign = make_spot(self.link, "Stall sign", timezone.now(), by=BY)

    def test_where_a_buyer_goes_is_known_by_the_names_of_fields_alone(self) -> None:
        buyer = self.new_page(PHONE)
        buyer.goto(self.sign.path)
        buyer.get_by_label("Your name").fill("Maren Saltmarsh")
        buyer.get_by_label("Which school?").fill("Strand School")
        buyer.get_by_label("E-mail").focus()
        with buyer.expect_request("**/visit/fields/") as told:
            buyer.evaluate("dispatchEvent(new Event('pagehide'))")
        self.assertNotIn("Strand School", told.value.post_data or "")
        self.assertNotIn("Maren", told.value.post_data or "")
        other = self.new_page()
        other.goto(self.link.path)
        fill_in(other)
        other.get_by_role("button", name="Pay").click()
        other.get_by_text("Thank you").first.wait_for()
        paths = {path.visit.rung: path for path in FieldPath.objects.select_related("visit")}
        self.assertEqual((paths[2].reached, paths[2].last), (["name", "answer.school", "email"], "email"))
        self.assertEqual((paths[4].blank, Visit.objects.count()), (["answer.school"], 2))
        page = self.seller_page()
        page.goto(f"/links/{self.link.pk}/results/")
        row = page.locator(".stop-rows .result-row", has_text="Which school?")
        row.get_by_text("too few to tell").wait_for()
        page.get_by_text("2 visits so far, but fewer than 20 each: too few to tell.").wait_for()

    def test_a_picture_says_what_is_pointed_at_by_pointer_and_by_keys(self) -> None:
        buyer = self.new_page()
        buyer.goto(self.sign.path)
        page = self.seller_page()
        page.goto(f"/links/{self.link.pk}/results/")
        picture, said = page.locator(".picture-wide svg"), page.locator("[data-said]")
        picture.focus()
        page.keyboard.press("ArrowLeft")
        said.get_by_text("1 visit, 0 paid, no money. Published.").wait_for()
        page.keyboard.press("ArrowLeft")
        said.get_by_text("0 visits, 0 paid, no money.").wait_for()
        picture.locator(".point").last.hover()
        said.get_by_text("1 visit, 0 paid").wait_for()

    def test_every_view_fits_is_accessible_and_gives_its_figures_away(self) -> None:
        for address in (self.sign.path, self.link.path):
            self.new_page().goto(address)
        paths = ("/results/", f"/links/{self.link.pk}/results/", "/results/?by=device", "/results/guide/")
        self.look_at_each(paths, self.seller_page)
        page = self.seller_page(java_script_enabled=False)
        page.goto(f"/links/{self.link.pk}/results/?by=site")
        page.get_by_text("No site named").wait_for()
        page.get_by_text("The same as a table").click()
        for kind in ("CSV", "SVG", "PNG"):
            with page.expect_download() as kept:
                page.locator(".over-time").get_by_role("link", name=kind).click()
            self.assertTrue(kept.value.suggested_filename.endswith(kind.lower()))
