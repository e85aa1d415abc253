from __future__ import annotations

from django.test import Client, TestCase

from cravik.links.models import Link
from tests.factories import MembershipFactory, make_draft, make_live

HOSTILE = "<img src=x onerror=alert(1)> 🪁 \u202ekite\u202c \"'"


class NewLinkTest(TestCase):
    def setUp(self) -> None:
        self.member = MembershipFactory()
        self.client.force_login(self.member.user)

    def make(self, purpose: str = "Kite repair", amount: str = "24", currency: str = "EUR") -> object:
        return self.client.post("/links/new/", {"purpose": purpose, "amount": amount, "currency": currency})

    def test_a_purpose_and_an_amount_make_a_draft(self) -> None:
        answer = self.client.post(
            "/links/new/", {"purpose": "Kite repair", "amount": "24", "currency": "EUR"}, follow=True
        )
        self.assertContains(answer, "Draft ready")
        self.assertContains(answer, 'data-phrase="price-purpose"')
        link = Link.objects.get()
        self.assertEqual(
            (link.state, link.slug, link.offer.lines[0].price.amount.minor), ("draft", "kite-repair", 2400)
        )

    def test_bad_input_gets_a_sentence_and_loses_nothing(self) -> None:
        cases = [
            (("", "24", "EUR"), "Say what the payment is for"),
            (("  \u200e ", "24", "EUR"), "Say what the payment is for"),
            (("x" * 10_000, "24", "EUR"), "This has 10,000 characters; the most is 120."),
            (("Kite", "", "EUR"), "Write an amount, such as 24.00."),
            (("Kite", "1,234", "EUR"), "can be read in two ways"),
            (("Kite", "0", "EUR"), "above zero"),
            (("Kite", "-1", "EUR"), "above zero"),
            (("Kite", "9" * 30, "EUR"), "more than can be charged"),
            (("Kite", "12.345.67", "EUR"), "is no amount"),
            (("Kite", "24", "XXX"), "not one of the available choices"),
        ]
        for typed, sentence in cases:
            with self.subTest(typed[1]):
                answer = self.make(*typed)
                self.assertContains(answer, sentence, status_code=400)
                if typed[0].strip("\u200e "):
                    self.assertContains(answer, f'value="{typed[0]}"', status_code=400)
        self.assertFalse(Link.objects.exists())

    def test_hostile_text_is_shown_as_it_was_typed_and_does_nothing(self) -> None:
        self.make(HOSTILE)
        link = Link.objects.get()
        self.assertNotIn("\u202e", link.offer.title)
        for address in (f"/links/{link.pk}/", f"/links/{link.pk}/hand-out/", "/", f"/for/rehearsal/{link.pk}/"):
            with self.subTest(address):
                answer = self.client.get(address)
                self.assertNotContains(answer, "<img src=x")
                self.assertContains(answer, "🪁")


class BenchTest(TestCase):
    def setUp(self) -> None:
        self.member = MembershipFactory()
        self.client.force_login(self.member.user)
        self.link = make_live(self.member.business)
        self.address = f"/links/{self.link.pk}/"

    def save(self, **changes: str) -> object:
        form = {
            "title": "Kite repair",
            "amount.purpose": "30",
            "currency": "EUR",
            "words": "",
            "revision": "1",
        } | changes
        return self.client.post(self.address, form, headers={"accept": "application/json"})

    def test_the_script_is_told_the_new_sentence_and_what_is_kept(self) -> None:
        answer = self.save(**{"amount.purpose": "30"}).json()
        self.assertEqual((answer["revision"], answer["unpublished"]), (2, True))
        self.assertRegex(
            answer["pieces"]["sentence"],
            '(?s)data-phrase="price-purpose"[^>]*>€30.00<.*data-phrase="title"[^>]*>Kite repair<',
        )
        self.assertIn("€29.30", answer["pieces"]["keeps"])

    def test_mistakes_are_named_at_their_fields(self) -> None:
        answer = self.save(**{"amount.purpose": "1,234", "title": ""})
        self.assertEqual(answer.status_code, 400)
        self.assertEqual(set(answer.json()["errors"]), {"amount.purpose", "title"})

    def test_a_second_tab_is_told(self) -> None:
        self.save(**{"amount.purpose": "30"})
        answer = self.save(**{"amount.purpose": "31"})
        self.assertEqual((answer.status_code, answer.json()["changed_elsewhere"]), (409, True))

    def test_without_a_script_the_form_saves_and_says_so(self) -> None:
        form = {"title": "Mending", "amount.purpose": "30", "currency": "EUR", "words": "By hand.", "revision": "1"}
        self.assertContains(self.client.post(self.address, form, follow=True), "Saved.")
        answer = self.client.post(self.address, form | {"words": "Changed again."})
        self.assertContains(answer, "changed in another tab", status_code=409)
        self.assertContains(answer, "Changed again.", status_code=409)

    def test_names_and_addresses_are_mended_with_what_is_free(self) -> None:
        other = make_draft(self.member.business, "Box kite")
        answer = self.client.post(f"{self.address}name/", {"name": other.name})
        self.assertContains(answer, "is free", status_code=400)
        answer = self.client.post(f"{self.address}address/", {"slug": "Box Kite"})
        self.assertContains(answer, "“box-kite-2” is free", status_code=400)
        answer = self.client.post(f"{self.address}address/", {"slug": "bøx/../kite"})
        self.assertContains(answer, "such as “box-kite”", status_code=400)
        self.assertRedirects(self.client.post(f"{self.address}address/", {"slug": "Our box"}), self.address)

    def test_a_step_that_the_state_does_not_allow_says_so(self) -> None:
        draft = make_draft(self.member.business, "Box kite")
        answer = self.client.post(f"/links/{draft.pk}/pause/", follow=True)
        self.assertContains(answer, "Nothing was changed: the link is draft now.")

    def test_a_form_from_elsewhere_is_refused(self) -> None:
        strict = Client(enforce_csrf_checks=True)
        strict.force_login(self.member.user)
        self.assertContains(strict.post(f"{self.address}end/"), "open for too long", status_code=403)

    def test_wrong_methods_are_refused(self) -> None:
        self.assertEqual(self.client.get(f"{self.address}end/").status_code, 405)
        self.assertEqual(self.client.delete(self.address).status_code, 405)
