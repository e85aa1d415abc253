"""The bench with every kind of link: several lines, prices of every kind, gaps, and another currency."""

from __future__ import annotations

import re
from typing import Any

from django.http import HttpResponse

from cravik.links.life import lifecycle
from cravik.links.models import Link
from tests.bench_form import BenchCase, rows_of
from tests.factories import BY, NOW, make_item
from tests.links import line, make_link

LEVELS = {
    "kind": "levels",
    "levels": [{"key": "low", "name": "Low", "amount": "12.00"}, {"key": "high", "name": "High", "amount": "40.00"}],
}


class BenchOfEveryKindTest(BenchCase):
    def test_a_former_price_is_set_refused_where_it_is_no_higher_and_taken_out(self) -> None:
        link = self.link()
        self.assertEqual(self.save(link, was__kite="30").status_code, 200)
        link.refresh_from_db()
        self.assertEqual(link.draft["offer"]["lines"][0]["price"], {"kind": "fixed", "amount": "24.00", "was": "30.00"})
        self.assertContains(self.client.get(f"/links/{link.pk}/"), "€24.00 instead of €30.00")
        page = self.client.get(f"/for/rehearsal/{link.pk}/")
        self.assertContains(page, '<s class="money">€30.00</s>')
        self.assertContains(page, "(20 %)")
        refused = self.save(link, was__kite="24")
        self.assertEqual((refused.status_code, list(refused.json()["errors"])), (400, ["was.kite"]))
        self.assertEqual(self.save(link, was__kite="3x").status_code, 400)
        self.save(link, was__kite=" ")
        link.refresh_from_db()
        self.assertEqual(link.draft["offer"]["lines"][0]["price"], {"kind": "fixed", "amount": "24.00"})

    def test_saving_drops_nothing_that_it_does_not_show(self) -> None:
        link = self.link(
            line(choices=[{"name": "Span", "options": [{"name": "1.2 m"}, {"name": "1.8 m"}]}]),
            line("patron", "Patron", price=LEVELS, optional=True),
            offer={"codes": [{"code": "GUST", "kind": "percent", "percent": "5"}]},
            limits={"orders": 40},
            labels=["market"],
            page={"words": "Sewn.", "button": "Order for {amount}"},
        )
        before = link.draft
        self.assertEqual(self.save(link).json()["revision"], 1)
        answer = self.save(link, amount__kite="26", name__patron="Friend", words="Sewn by hand.", ships__kite="on")
        self.assertEqual(answer.status_code, 200, answer.content)
        link.refresh_from_db()
        sold = link.draft["offer"]["lines"]
        self.assertEqual(
            sold,
            [
                before["offer"]["lines"][0] | {"price": {"kind": "fixed", "amount": "26.00"}, "ships": True},
                before["offer"]["lines"][1] | {"name": "Friend"},
            ],
        )
        rest = {key: value for key, value in link.draft.items() if key not in ("offer", "page")}
        self.assertEqual(rest, {key: value for key, value in before.items() if key not in ("offer", "page")})
        self.assertEqual(link.draft["page"], {"words": "Sewn by hand.", "button": "Order for {amount}"})
        self.assertEqual(link.draft["offer"]["codes"], before["offer"]["codes"])

    def test_another_currency_clears_what_was_in_the_former_one_and_says_so(self) -> None:
        link = self.link(
            line(),
            line("patron", "Patron", price=LEVELS),
            offer={"codes": [{"code": "FIVE", "kind": "amount", "amount": "5.00"}]},
            code_rules={"FIVE": {"uses": 2}},
        )
        told = self.save(link, by_script=False, currency="GBP", amount__kite="20")
        self.assertEqual(told.status_code, 302)
        page = self.client.get(f"/links/{link.pk}/")
        self.assertContains(page, "Cleared, because they were in EUR: the price of “Patron” and the code FIVE.")
        self.assertContains(page, "“Patron” has no price yet.")
        self.assertContains(page, "an amount")
        self.assertContains(self.client.get("/"), "no price yet")
        self.assertEqual(self.client.get(f"/links/{link.pk}/hand-out/").status_code, 200)
        self.assertEqual(self.client.get(f"/links/{link.pk}/button/").status_code, 404)
        self.assertContains(self.client.get(f"/for/rehearsal/{link.pk}/"), "The page is not finished")
        refused = self.client.post(f"/links/{link.pk}/publish/", follow=True)
        self.assertContains(refused, "Not published yet.", count=1)
        self.assertContains(refused, "“Patron” has no price yet.", count=1)
        link.refresh_from_db()
        self.assertEqual((link.draft["offer"]["currency"], link.effective), ("GBP", None))
        self.save(link, amount__kite="20", amount__patron="9")
        link.refresh_from_db()
        self.assertEqual([each.price.amount.major for each in link.offer.lines], ["20.00", "9.00"])
        self.assertEqual(lifecycle.publish(link, NOW, by=BY).state, "live")

    def test_a_link_with_later_payments_is_published(self) -> None:
        plan = {"kind": "instalments", "every": {"count": 1, "unit": "month"}, "payments": 6}
        link = self.link(line(amount="600"), offer={"plan": plan})
        page = self.client.get(f"/links/{link.pk}/")
        self.assertContains(page, "€100.00 now")
        self.client.post(f"/links/{link.pk}/publish/", follow=True)
        link.refresh_from_db()
        shown = self.client.get(link.path)
        self.assertContains(shown, "Pay €100.00")
        self.assertContains(shown, "and 1 more after that")
        self.assertContains(shown, "Later payments are taken from this card on their days.")

    def test_a_free_thing_can_be_saved(self) -> None:
        link = self.link(line(amount="0"))
        self.assertEqual(self.save(link, words="Yours.").status_code, 200)
        self.assertContains(self.client.get("/"), "free")

    def test_several_items_in_one_link_follow_each_by_itself(self) -> None:
        for code, name in (("DELTA", "Delta kite"), ("TAIL", "Tail")):
            make_item(self.member.business, name, 5000, code=code)
        link = make_link(
            line(),
            line("tail", "x", optional=True),
            business=self.member.business,
            items={"kite": "DELTA", "tail": "TAIL"},
        )
        page = self.client.get(f"/links/{link.pk}/")
        self.assertContains(page, "Name, words and pictures are those of the item", 2)
        self.assertContains(page, "Delta kite costs €50.00 now.")
        self.client.post(f"/links/{link.pk}/item-price/")
        link.refresh_from_db()
        self.assertEqual([each.price.amount.major for each in link.offer.lines], ["50.00", "50.00"])
        self.assertEqual(link.draft["items"], {"kite": "DELTA", "tail": "TAIL"})


class EveryPriceTest(BenchCase):
    """Each kind of price is made on the bench, said in the sentence, and shown on the page."""

    def price_of(self, link: Link, place: int = 0) -> Any:
        link.refresh_from_db()
        return link.draft["offer"]["lines"][place].get("price")

    def sentence_of(self, answer: HttpResponse) -> str:
        return re.sub(r"<[^>]+>", "", answer.json()["pieces"]["sentence"]).partition("You can add")[0].strip()

    def test_levels_are_made_from_the_price_named_and_kept_by_their_keys(self) -> None:
        link = self.link()
        answer = self.save(link, kind__kite="levels")
        self.assertIn("kind-kite", answer.json()["panels"])
        self.assertIn("needs a name and an amount", answer.json()["pieces"]["missing"])
        self.assertIn("an amount for Kites", self.sentence_of(answer))
        rows = rows_of(
            "levels.kite", {"key": "level-1", "name": "Breeze", "amount": "24"}, {"name": "Gale", "amount": "40"}
        )
        answer = self.save(link, **rows)
        self.assertIn("€24.00 (Breeze) or €40.00 (Gale) for Kites", self.sentence_of(answer))
        levels = self.price_of(link)["levels"]
        self.assertEqual([level["key"] for level in levels], ["level-1", "gale"])
        rows = rows_of(
            "levels.kite", {"key": "gale", "name": "Storm", "amount": "45"}, {"name": "Gale", "amount": "x1"}
        )
        refused = self.save(link, **rows)
        self.assertEqual(list(refused.json()["errors"]), ["levels.kite-1-amount"])
        self.assertContains(self.client.get(f"/for/rehearsal/{link.pk}/"), "Breeze")

    def test_breaks_are_sorted_and_two_that_start_alike_are_refused(self) -> None:
        link = self.link()
        self.save(link, kind__kite="quantity")
        self.assertEqual(self.price_of(link)["breaks"], [{"from": 1, "unit": "24.00"}])
        self.assertEqual(link.draft["offer"]["lines"][0]["quantity"], {"max": None})
        rows = [{"start": "10", "unit": "20"}, {"start": "1", "unit": "24"}, {"start": "", "unit": ""}]
        answer = self.save(link, **rows_of("breaks.kite", *rows), method__kite="incremental")
        self.assertIn("€24.00 each for the first 9 and €20.00 each after that", self.sentence_of(answer))
        refused = self.save(link, **rows_of("breaks.kite", *rows[:2], {"start": "10", "unit": "18"}))
        self.assertEqual(refused.json()["errors"], {"breaks.kite-2-start": ["Another row starts at 10 already."]})
        refused = self.save(link, **rows_of("breaks.kite", rows[0]))
        self.assertEqual(refused.json()["errors"], {"breaks.kite-0-start": ["The first row starts at 1."]})

    def test_bundles_are_sorted_and_have_to_save(self) -> None:
        link = self.link()
        self.save(link, kind__kite="bundles")
        self.assertEqual(self.price_of(link), {"kind": "bundles", "unit": "24.00", "bundles": []})
        self.assertEqual(link.draft["offer"]["lines"][0]["quantity"], {"max": 1000})
        rows = [{"count": "10", "amount": "180"}, {"count": "3", "amount": "60"}, {"count": "", "amount": ""}]
        answer = self.save(link, unit__kite="24", **rows_of("bundles.kite", *rows))
        words = "€24.00 each, 3 for €60.00 or 10 for €180.00, for Kites, up to 1,000"
        self.assertIn(words, self.sentence_of(answer))
        for row, at, said in (
            ({"count": "3", "amount": "72"}, "amount", "3 cost 72.00 EUR singly; together they cost less."),
            ({"count": "1", "amount": "9"}, "count", "A bundle has from 2 to 1,000 pieces; 1 is not between."),
            ({"count": "1001", "amount": "9"}, "count", "A bundle has from 2 to 1,000 pieces; 1,001 is not between."),
        ):
            refused = self.save(link, unit__kite="24", **rows_of("bundles.kite", row))
            self.assertEqual(refused.json()["errors"], {f"bundles.kite-0-{at}": [said]})
        twice = self.save(link, unit__kite="24", **rows_of("bundles.kite", rows[1], rows[1]))
        self.assertEqual(twice.json()["errors"], {"bundles.kite-1-count": ["Another bundle has 3 pieces already."]})
        many = self.save(link, min__kite="1", max__kite="2000", default__kite="1")
        self.assertIn("At this kind of price the most is 1,000 or fewer.", str(many.json()["errors"]))
        self.assertContains(self.client.get(f"/for/rehearsal/{link.pk}/"), "One more costs €24.00: 2 are €48.00.")

    def test_packs_free_and_what_the_buyer_wants(self) -> None:
        link = self.link()
        self.save(link, kind__kite="packs")
        answer = self.save(link, amount__kite="6", size__kite="12")
        self.assertIn("€6.00 a pack of 12 for Kites, as many as wanted", self.sentence_of(answer))
        self.save(link, kind__kite="open")
        wanted = {"least__kite": "5", "most__kite": "", "suggested__kite": "10; 20,50 ,  50", "start__kite": "20"}
        answer = self.save(link, **wanted)
        self.assertIn("what the buyer wants, €5.00 or more each, for Kites", self.sentence_of(answer))
        self.assertEqual(self.price_of(link)["suggested"], ["10.00", "20.50", "50.00"])
        refused = self.save(link, **wanted | {"suggested__kite": "4"})
        self.assertEqual(refused.json()["errors"], {"suggested.kite": ["4.00 is below the least, 5.00."]})
        refused = self.save(link, **wanted | {"most__kite": "3"})
        self.assertEqual(refused.json()["errors"], {"most.kite": ["The most is not below the least."]})
        self.save(link, kind__kite="free")
        self.assertEqual(self.price_of(link), {"kind": "fixed", "amount": "0"})
        self.assertContains(self.client.get(f"/links/{link.pk}/"), "no card is asked for")

    def test_going_back_to_a_kind_brings_back_what_it_had(self) -> None:
        link = self.link()
        self.save(link, was__kite="30")
        self.save(link, kind__kite="open")
        self.save(link, kind__kite="levels", suggested__kite="24; 48", least__kite="")
        self.save(link, kind__kite="fixed")
        self.assertEqual(self.price_of(link), {"kind": "fixed", "amount": "24.00", "was": "30.00"})
        self.save(link, kind__kite="open")
        self.assertEqual(self.price_of(link)["suggested"], ["24.00", "48.00"])
        self.save(link, currency="GBP")
        self.assertIsNone(self.price_of(link), "an amount is never taken over into another currency")
        self.assertEqual(link.former_prices, {})

    def test_what_is_typed_as_nothing_stays_one_price_until_the_kind_is_chosen(self) -> None:
        link = self.link()
        self.save(link, amount__kite="0")
        kept = {"kind.kite": "fixed", "shown_kind.kite": "fixed", "amount.kite": "0.50"}
        link.refresh_from_db()
        self.client.post(f"/links/{link.pk}/", kept | {"revision": link.revision, "currency": "EUR"})
        self.assertEqual(self.price_of(link), {"kind": "fixed", "amount": "0.50"})

    def test_bounds_of_the_quantity(self) -> None:
        link = self.link()
        answer = self.save(link, min__kite="2", max__kite="12", default__kite="")
        self.assertIn("€24.00 each for Kites, from 2 to 12", self.sentence_of(answer))
        link.refresh_from_db()
        self.assertEqual(link.draft["offer"]["lines"][0]["quantity"], {"default": 2, "min": 2, "max": 12})
        refused = self.save(link, min__kite="5", max__kite="4")
        self.assertEqual(refused.json()["errors"], {"max.kite": ["The most is not below the least, 5."]})
        refused = self.save(link, default__kite="99")
        self.assertEqual(refused.json()["errors"], {"default.kite": ["The default has to be from 2 to 12."]})
        self.assertEqual(self.save(link, min__kite="half").status_code, 400)

    def test_options_of_its_own_with_additions_and_weight(self) -> None:
        link = self.link()
        options = rows_of(
            "options.kite.0",
            {"name": "1.2 m", "add": "-6", "weight_g": "320"},
            {"name": "1.8 m", "add": "", "weight_g": ""},
        )
        answer = self.save(link, **options, **{"options.kite.0": "Span"})
        self.assertIn("€24.00 for Kites in 1.2 m (€6.00 less) or 1.8 m", self.sentence_of(answer))
        link.refresh_from_db()
        group = {"name": "Span", "options": [{"name": "1.2 m", "add": "-6.00", "weight_g": 320}, {"name": "1.8 m"}]}
        self.assertEqual(link.draft["offer"]["lines"][0]["choices"], [group])
        refused = self.save(
            link, **rows_of("options.kite.0", {"name": "Red"}, {"name": "Red"}), **{"options.kite.0": ""}
        )
        self.assertEqual(set(refused.json()["errors"]), {"options.kite.0", "options.kite.0-1-name"})
        self.save(link, **rows_of("options.kite.0"), **{"options.kite.0": ""})
        link.refresh_from_db()
        self.assertNotIn("choices", link.draft["offer"]["lines"][0])


class CodesAndStepsTest(BenchCase):
    def test_each_kind_of_code_says_what_it_makes_of_the_sum(self) -> None:
        link = self.link(line(quantity={"max": None}))
        answer = self.save(
            link,
            **rows_of(
                "codes",
                {"code": "GUST", "value": "15", "kind": "percent", "uses": "10", "uses_per_buyer": "1"},
                {"code": "FIVE", "value": "5", "kind": "amount", "minimum": "40", "ends_on": "2027-01-31"},
                {"code": "twenty", "value": "20", "kind": "unit_price"},
                {"code": "SENT", "value": "", "kind": "free_delivery"},
            ),
        )
        self.assertEqual(answer.status_code, 200, answer.content)
        told = answer.json()["pieces"]["codes"]
        for words in (
            "€20.40 instead of €24.00, 15 % less; 3 at once €61.20",
            "€20.00 instead of €24.00, 16 % less; 3 at once €60.00",
            "?code=GUST",
            "Used 0 times",
        ):
            self.assertIn(words, told)
        link.refresh_from_db()
        codes = link.draft["offer"]["codes"]
        self.assertEqual(
            codes[1], {"code": "FIVE", "kind": "amount", "amount": "5.00", "minimum": "40.00", "ends_on": "2027-01-31"}
        )
        self.assertEqual(codes[2], {"code": "twenty", "kind": "unit_price", "line": "kite", "unit": "20.00"})
        self.assertEqual(link.draft["code_rules"], {"GUST": {"uses": 10, "uses_per_buyer": 1}})
        self.assertIn("4 discount codes", answer.json()["pieces"]["sentence"])
        page = self.client.get(f"/for/rehearsal/{link.pk}/?code=gust")
        self.assertContains(page, "Discount code")

    def test_what_is_wrong_with_a_code_stands_at_its_field(self) -> None:
        link = self.link(line(), line("tail", "Tail"))
        refused = self.save(
            link,
            **rows_of(
                "codes",
                {"code": "A", "value": "120", "kind": "percent"},
                {"code": "a ", "value": "1x", "kind": "amount", "starts_on": "2027-02-01", "ends_on": "2027-01-31"},
                {"code": "", "value": "3", "kind": "unit_price"},
                {"code": "B", "value": "", "kind": "percent", "line": "sled"},
            ),
        )
        self.assertEqual(
            set(refused.json()["errors"]),
            {
                "codes-0-value",
                "codes-1-code",
                "codes-1-value",
                "codes-1-ends_on",
                "codes-2-code",
                "codes-2-line",
                "codes-3-value",
                "codes-3-line",
            },
        )

    def test_a_row_in_which_nothing_was_typed_is_passed_over(self) -> None:
        link = self.link(line(), line("tail", "Tail"))
        blank = rows_of("codes", {"kind": "percent", "line": ""}) | rows_of("steps", {"line": "kite"})
        self.assertEqual(self.save(link, **blank).json()["revision"], 1)

    def test_a_later_price_by_sales_or_from_an_hour(self) -> None:
        link = self.link(line(amount="150"))
        answer = self.save(
            link,
            **rows_of("steps", {"amount": "220", "starts": "2027-01-31T18:00"}, {"amount": "200", "after": "10"}),
            tells_left="on",
        )
        self.assertEqual(answer.status_code, 200, answer.content)
        self.assertIn(
            "then €220.00 from 31 Jan 2027, 18:00 (UTC) and €200.00 after 10 orders",
            re.sub(r"<[^>]+>", "", answer.json()["pieces"]["sentence"]),
        )
        link.refresh_from_db()
        self.assertEqual(link.draft["steps"][1]["after_orders"], 10)
        self.assertEqual(link.draft["steps"][0]["from"], "2027-01-31T18:00:00+00:00")
        self.assertEqual(link.draft["page"], {"tells_left": True})
        refused = self.save(link, **rows_of("steps", {"amount": "220"}, {"after": "3"}))
        self.assertEqual(set(refused.json()["errors"]), {"steps-0-after", "steps-1-amount"})
