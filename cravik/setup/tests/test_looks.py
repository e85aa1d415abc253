"""Brand looks: typed, checked, shown, worn by pages."""

from __future__ import annotations

import tempfile
from typing import Any

from django.test import TestCase, override_settings

from cravik.catalogue.tests.photos import photo, upload
from cravik.core.graphics.palette import COLOURS
from cravik.links.life import lifecycle
from cravik.setup.look_services import MAX_LOOKS, make_look, starting_document
from cravik.setup.models import Look
from tests.factories import BY, NOW, MembershipFactory, make_draft, make_live
from tests.paying import pay_live


class KitTestCase(TestCase):
    def setUp(self) -> None:
        self.enterContext(override_settings(CRAVIK_PICTURES=self.enterContext(tempfile.TemporaryDirectory())))
        self.member = MembershipFactory()
        self.business = self.member.business
        self.client.force_login(self.member.user)
        self.look = make_look(self.business, NOW, by=BY)

    def sent(self, **changes: Any) -> dict[str, Any]:
        fresh = Look.objects.get(id=self.look.pk)
        plain = {"name": fresh.name, "type": "stall", "corners": "slight", "header": "", "footer": "", "logo_words": ""}
        rows = {"social-TOTAL_FORMS": "1", "social-INITIAL_FORMS": "0", "social-0-name": "", "social-0-address": ""}
        return starting_document()["colours"] | plain | rows | {"revision": str(fresh.revision)} | changes

    def save(self, **changes: Any) -> Any:
        return self.client.post(f"/setup/looks/{self.look.pk}/", self.sent(**changes))


class LookPageTest(KitTestCase):
    def test_the_first_kit_is_the_default_and_copies_are_named(self) -> None:
        self.assertTrue(self.look.is_default)
        self.client.post("/setup/looks/new/", {"like": str(self.look.pk)})
        self.client.post("/setup/looks/new/", {"like": str(self.look.pk)})
        self.client.post("/setup/looks/new/")
        names = sorted(Look.objects.values_list("name", flat=True))
        self.assertEqual(names, ["New look", "Our look", "Our look, copied", "Our look, copied 2"])
        self.assertEqual(Look.objects.filter(is_default=True).count(), 1)
        for _ in range(MAX_LOOKS):
            answer = self.client.post("/setup/looks/new/", follow=True)
        self.assertContains(answer, f"You have {MAX_LOOKS} looks, the most there can be.")

    def test_everything_that_is_typed_is_kept_and_shown_again(self) -> None:
        social = {"social-0-name": "The beach", "social-0-address": "beach.windlestraw.example/today"}
        answer = self.save(name="Sea", button="1C6B66", corners="round", header="Since 1998", footer="A\nB", **social)
        self.assertRedirects(answer, f"/setup/looks/{self.look.pk}/")
        look = Look.objects.get()
        self.assertEqual((look.name, look.document["colours"]["button"], look.revision), ("Sea", "#1c6b66", 2))
        self.assertEqual(look.document["socials"][0]["address"], "https://beach.windlestraw.example/today")
        page = self.client.get(f"/setup/looks/{self.look.pk}/")
        for shown in ('value="#1c6b66"', 'value="Since 1998"', "A\nB", 'value="The beach"'):
            self.assertContains(page, shown)

    def test_mistakes_stand_at_their_fields_and_nothing_is_lost(self) -> None:
        cases = [
            ({"ground": "sky blue"}, "no colour such as #a63a28"),
            ({"name": ""}, "Give the look a name."),
            ({"type": "comic"}, "valid choice"),
            ({"social-0-address": "javascript:alert(1)"}, "begins with https://"),
            ({"social-0-address": "https://bad host/"}, "begins with https://"),
            ({"social-0-address": "https://[::1"}, "begins with https://"),
            ({"social-0-name": "Beach"}, "Write the address"),
            ({"header": "x" * 81}, "the most is 80"),
        ]
        for changes, sentence in cases:
            with self.subTest(sentence):
                answer = self.save(footer="Typed <b>", **changes)
                self.assertContains(answer, sentence, status_code=400)
                self.assertContains(answer, "Typed &lt;b&gt;", status_code=400)
        make_look(self.business, NOW, by=BY)
        self.assertContains(self.save(name="New look"), "Another look has that name.", status_code=400)
        self.assertContains(self.save(revision="7"), "changed in another tab", status_code=409)

    def test_a_pair_that_fails_is_mended_by_one_press(self) -> None:
        answer = self.client.post(f"/setup/looks/{self.look.pk}/check/", self.sent(button="#e2a53c"))
        self.assertContains(answer, "1 of 6 pairs is hard to read.")
        mended = self.save(button="#e2a53c", header="Typed", mend="button_text")
        self.assertContains(mended, "Every pair has a contrast of at least 4.5 to 1")
        self.assertContains(mended, 'value="Typed"')
        self.assertEqual(Look.objects.get().revision, 1)
        self.save(button="#e2a53c")
        self.assertContains(self.client.get("/setup/looks/"), "1 pair of colours is hard to read.")
        grey = self.client.post(f"/setup/looks/{self.look.pk}/check/", self.sent(ground="#101010", sheet="#ffffff"))
        self.assertContains(grey, "No colour can be read on both.")

    def test_the_sample_shows_what_is_being_typed(self) -> None:
        address = f"/setup/looks/{self.look.pk}/sample/"
        shown = self.client.post(address, self.sent(header="Being typed", ground="nonsense", button="#123456"))
        self.assertContains(shown, "Being typed")
        self.assertContains(shown, "-123456-")
        self.assertNotContains(self.client.get(address), "Being typed")

    def test_logo_and_icon_are_prepared_like_any_photo(self) -> None:
        self.assertEqual(self.save(logo=upload(photo((500, 300))), logo_words="A kite").status_code, 302)
        document = Look.objects.get().document
        picture = self.client.get(f"/pictures/{document['logo']['name']}-320.webp")
        self.assertEqual(picture["Content-Type"], "image/webp")
        refused = self.save(icon=upload(b"<script>", "icon.jpg"), header="Kept")
        self.assertContains(refused, "“icon.jpg” was not taken as the icon.", status_code=400)
        self.assertContains(refused, 'value="Kept"', status_code=400)
        self.assertContains(self.client.get(f"/setup/looks/{self.look.pk}/sample/"), 'alt="A kite"')
        self.save(remove_logo="yes")
        self.assertNotIn("logo", Look.objects.get().document)


class LookOfPagesTest(KitTestCase):
    def page(self, link: Any) -> Any:
        self.client.logout()
        answer = self.client.get(link.path)
        self.client.force_login(self.member.user)
        return answer

    def test_a_new_look_is_worn_by_drafts_at_once_and_by_live_pages_when_the_seller_says_so(self) -> None:
        live = make_live(self.business)
        draft = make_draft(self.business)
        self.save(header="Made by hand", button="#1c6b66")
        self.assertContains(self.client.get(f"/for/rehearsal/{draft.pk}/"), "Made by hand")
        self.assertNotContains(self.page(live), "Made by hand")
        self.assertContains(self.client.get("/setup/looks/"), "1 published link still shows")
        self.client.post("/links/setup/look/", {"link": str(live.pk)})
        page = self.page(live)
        self.assertContains(page, "Made by hand")
        sheet = self.client.get(page.content.decode().split('rel="stylesheet" href="')[2].split('"')[0])
        self.assertIn("--main:#1c6b66", sheet.content.decode())
        self.assertIn("immutable", sheet["Cache-Control"])
        paid = pay_live(self.client, live)
        self.assertContains(self.client.get(paid["Location"]), "Made by hand")
        lifecycle.pause(live, NOW, by=BY)
        self.assertContains(self.page(live), "-1c6b66-")

    def test_a_link_may_have_another_kit_or_none(self) -> None:
        other = make_look(self.business, NOW, by=BY)
        Look.objects.filter(id=other.pk).update(document=other.document | {"header": "The other"})
        draft = make_draft(self.business)
        address = f"/links/{draft.pk}/own/look/"
        followed = self.client.get(address).context["sheet"].form["chosen"].value()
        self.assertEqual(followed, Look.objects.get(is_default=True).pk, "what it follows is shown")
        self.client.post(address, {"whose": "own", "chosen": str(other.pk), "seen": str(draft.revision)})
        self.assertContains(self.client.get(f"/for/rehearsal/{draft.pk}/"), "The other")
        self.assertContains(self.client.get(f"/links/{draft.pk}/"), "New look")
        self.assertEqual(self.client.post(address, {"whose": "own", "chosen": "999", "seen": "2"}).status_code, 400)
        self.client.post(f"/setup/looks/{other.pk}/remove/")
        self.assertContains(self.client.get(f"/for/rehearsal/{draft.pk}/"), "/looks/2/")
        draft.refresh_from_db()
        self.client.post(address, {"whose": "own", "chosen": "0", "seen": str(draft.revision)})
        self.assertNotContains(self.client.get(f"/for/rehearsal/{draft.pk}/"), "/looks/2/")

    def test_a_published_link_that_chose_a_kit_is_named_when_that_kit_changes(self) -> None:
        other = make_look(self.business, NOW, by=BY)
        draft = make_draft(self.business)
        self.client.post(
            f"/links/{draft.pk}/own/look/", {"whose": "own", "chosen": str(other.pk), "seen": str(draft.revision)}
        )
        draft.refresh_from_db()
        live = lifecycle.publish(draft, NOW, by=BY)
        self.assertNotContains(self.client.get("/setup/looks/"), "still shows")
        sent = self.sent(name="Other", header="New line") | {"revision": "1"}
        self.client.post(f"/setup/looks/{other.pk}/", sent)
        self.assertContains(self.client.get("/setup/looks/"), "1 published link still shows")
        self.client.post("/links/setup/look/", {"link": str(live.pk)})
        self.assertContains(self.page(live), "New line")

    def test_another_default_and_its_removal(self) -> None:
        other = make_look(self.business, NOW, by=BY)
        self.client.post(f"/setup/looks/{other.pk}/default/")
        self.assertEqual(Look.objects.get(is_default=True), other)
        self.client.post(f"/setup/looks/{other.pk}/remove/")
        self.assertEqual(make_draft(self.business).effective["look"], {})

    def test_style_sheets_of_nonsense_are_not_there(self) -> None:
        colours = "-".join(["123456"] * len(COLOURS))
        self.assertEqual(self.client.get(f"/looks/2/{colours}.stall.slight.css").status_code, 200)
        for bad in (f"{colours}.comic.slight", f"{colours}.stall.oval", "123456.stall.slight", "}{.stall.slight"):
            self.assertEqual(self.client.get(f"/looks/2/{bad}.css").status_code, 404)
