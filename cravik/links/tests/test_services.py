from __future__ import annotations

from django.test import TestCase

from cravik.links.bench.saving import change_parts
from cravik.links.life import lifecycle
from cravik.links.models import Address, Link, Version
from cravik.links.places import addresses
from cravik.links.places.naming import first_free, is_slug, slug_from
from cravik.setup.saving import ChangedElsewhere, NameTaken
from tests.factories import BY, NOW, change_price, make_business, make_draft, make_live, typed


class NamingTest(TestCase):
    def test_addresses_are_readable_in_any_script(self) -> None:
        cases = {
            "Kite repair": "kite-repair",
            "Réparation d’un cerf-volant": "reparation-dun-cerf-volant",
            "Воздушный змей": "vozdushnyy-zmey",
            "<script>alert(1)</script>": "script-alert-1-script",
            "!!!": "offer",
            "x" * 500: "x" * 44,
            "word " * 100: "word-word-word-word-word-word-word-word-word"[:44],
        }
        for text, slug in cases.items():
            with self.subTest(text[:20]):
                self.assertEqual(slug_from(text), slug)
                self.assertTrue(is_slug(slug_from(text)))

    def test_the_first_free_one_keeps_within_its_length(self) -> None:
        self.assertEqual(first_free("abcdef", {"abcdef", "abcd-2"}.__contains__, "-", 6), "abcd-3")


class MakeLinkTest(TestCase):
    def test_names_and_addresses_are_unique_at_once(self) -> None:
        business = make_business()
        links = [make_draft(business) for _ in range(3)] + [make_draft(make_business())]
        self.assertEqual(
            [(link.name, link.slug) for link in links],
            [
                ("Kite repair", "kite-repair"),
                ("Kite repair 2", "kite-repair-2"),
                ("Kite repair 3", "kite-repair-3"),
                ("Kite repair", "kite-repair-4"),
            ],
        )


class ChangeDraftTest(TestCase):
    def test_the_second_tab_is_told(self) -> None:
        link = make_draft()
        change_parts(link, typed(link, 2500, "Kite mending"), 1, NOW, by=BY)
        self.assertEqual({step.actor for step in link.steps.all()}, {BY})
        with self.assertRaises(ChangedElsewhere):
            change_parts(link, typed(link, 2600, "Kite fixing"), 1, NOW, by=BY)
        link.refresh_from_db()
        self.assertEqual((link.offer.title, link.revision), ("Kite mending", 2))

    def test_saving_the_same_again_changes_nothing(self) -> None:
        link = make_draft()
        self.assertEqual(change_parts(link, typed(link, 2400), 1, NOW, by=BY).link.revision, 1)

    def test_buyers_keep_seeing_what_was_published(self) -> None:
        link = make_live()
        changed = change_price(link, 9900)
        self.assertTrue(changed.has_unpublished_changes)
        self.assertEqual(changed.version.offer.lines[0].price.amount.minor, 2400)
        published = lifecycle.publish(changed, NOW, by=BY)
        self.assertEqual((published.version.number, published.version.offer.lines[0].price.amount.minor), (2, 9900))
        self.assertFalse(published.has_unpublished_changes)
        self.assertEqual(Version.objects.get(link=link, number=1).offer.lines[0].price.amount.minor, 2400)


class StepsTest(TestCase):
    def test_states_move_only_as_they_may(self) -> None:
        steps = {
            "publish": lifecycle.publish,
            "pause": lifecycle.pause,
            "resume": lifecycle.resume,
            "end": lifecycle.end,
        }
        moves = {
            "draft": {"publish": "live"},
            "live": {"publish": "live", "pause": "paused", "end": "ended", "resume": "live"},
            "paused": {"publish": "paused", "resume": "live", "end": "ended", "pause": "paused"},
            "ended": {"resume": "live", "end": "ended"},
        }
        ways = {"draft": [], "live": ["publish"], "paused": ["publish", "pause"], "ended": ["publish", "end"]}
        for state, way in ways.items():
            for name, step in steps.items():
                with self.subTest(f"{name} a {state} one"):
                    link = make_draft()
                    for earlier in way:
                        link = steps[earlier](link, NOW, by=BY)
                    if name in moves[state]:
                        self.assertEqual(step(link, NOW, by=BY).state, moves[state][name])
                    else:
                        with self.assertRaises(lifecycle.NotInThatState):
                            step(link, NOW, by=BY)
                    link.refresh_from_db()
                    self.assertEqual(link.ended_why, "by_hand" if link.state == Link.State.ENDED else "")


class AddressTest(TestCase):
    def test_a_former_address_keeps_answering_and_is_nobody_elses(self) -> None:
        link, other = make_live(), make_live(purpose="Box kite")
        addresses.change_address(link, "mending", NOW, by=BY)
        self.assertRedirects(self.client.get("/for/kite-repair/"), "/for/mending/")
        with self.assertRaises(addresses.AddressTaken) as taken:
            addresses.change_address(other, "kite-repair", NOW, by=BY)
        self.assertEqual(taken.exception.free, "kite-repair-2")
        addresses.change_address(link, "kite-repair", NOW, by=BY)
        self.assertEqual(Address.objects.get(link=link, current=True).slug, "kite-repair")

    def test_names_are_unique_within_a_business_alone(self) -> None:
        link, other = make_draft(), make_draft(purpose="Box kite")
        addresses.rename(other, link.name, NOW, by=BY)
        with self.assertRaises(NameTaken):
            addresses.rename(make_draft(link.business, "Delta"), link.name, NOW, by=BY)
