"""When it is paid, as it is set on the bench and told on the buyer's page."""

from __future__ import annotations

from typing import Any

import time_machine

from cravik.links.models import Link
from tests.bench_form import BenchCase
from tests.factories import NOW
from tests.links import line

ONE = {"plans-TOTAL_FORMS": "1", "plans-INITIAL_FORMS": "1", "plans-0-key": "new"}
TWO = ONE | {"plans-TOTAL_FORMS": "2", "plans-1-key": "new"}

FIVE = {"kind": "fixed", "amount": "5.00"}


@time_machine.travel(NOW, tick=False)
class PlansTest(BenchCase):
    def set_plans(self, link: Link, **fields: str) -> Any:
        """Set the fields of rows 0 and 1, named ``one__kind`` and ``two__kind``; what is not named is left empty."""
        link.refresh_from_db()
        names = {"one": "plans-0", "two": "plans-1"}
        parted = {name.partition("__")[::2]: value for name, value in fields.items()}
        rows = {f"{names[row]}-{name}": value for (row, name), value in parted.items() if row in names}
        others = {name: value for name, value in fields.items() if not name.startswith(("one__", "two__"))}
        shape = TWO if any(row == "two" for row, _ in parted) else ONE
        answer = self.save(link, **shape | rows | others)
        link.refresh_from_db()
        return answer

    def plan(self, link: Link) -> Any:
        return link.draft["offer"].get("plan")

    def test_each_way_is_said_and_shown_with_its_days(self) -> None:
        month = {"count": 1, "unit": "month"}
        cases: list[tuple[dict[str, str], Any, str]] = [
            ({"kind": "once"}, None, "€600.00 once"),
            (
                {"kind": "instalments", "instalments_payments": "6"},
                {"kind": "instalments", "every": month, "payments": 6},
                "€100.00 today, then 5 × €100.00 on the 23rd of each month, the last on 23 Apr 2027; €600.00 in all",
            ),
            (
                {"kind": "repeat", "repeat_every": "2", "repeat_unit": "week", "repeat_payments": "3"},
                {"kind": "repeat", "every": {"count": 2, "unit": "week"}, "payments": 3},
                "€600.00 today, then 2 × €600.00 every 2 weeks on Monday, the last on 21 Dec 2026; €1,800.00 in all",
            ),
            (
                {"kind": "repeat", "repeat_trial": "10"},
                {"kind": "repeat", "every": month, "trial_days": 10},
                "Nothing today, €600.00 on 3 Dec 2026, then €600.00 on the 3rd of each month until it is ended;"
                " €7,200.00 for the first year",
            ),
            (
                {"kind": "repeat", "repeat_trial": "2", "repeat_trial_unit": "month"},
                {"kind": "repeat", "every": month, "trial_months": 2},
                "Nothing today, €600.00 on 23 Jan 2027, then €600.00 on the 23rd of each month until it is ended;"
                " €6,000.00 for the first year",
            ),
            (
                {"kind": "repeat", "first_kite": "5"},
                {"kind": "repeat", "every": month, "first": {"payments": 1, "prices": {"kite": FIVE}}},
                "€5.00 today, then €600.00 on the 23rd of each month until it is ended; €6,605.00 for the first year",
            ),
            (
                {"kind": "repeat", "repeat_first": "3", "first_kite": "5"},
                {"kind": "repeat", "every": month, "first": {"payments": 3, "prices": {"kite": FIVE}}},
                "€5.00 today, then 2 × €5.00, then €600.00 on the 23rd of each month until it is ended;"
                " €5,415.00 for the first year",
            ),
            (
                {"kind": "repeat", "repeat_payments": "4", "repeat_first": "2", "first_kite": "5"},
                {"kind": "repeat", "every": month, "payments": 4, "first": {"payments": 2, "prices": {"kite": FIVE}}},
                "€5.00 today, then €5.00 and 2 × €600.00 on the 23rd of each month, the last on 23 Feb 2027;"
                " €1,210.00 in all",
            ),
            (
                {"kind": "deposit", "deposit_now": "100", "deposit_rest_on": "2027-03-01"},
                {"kind": "deposit", "amount": "100.00", "rest_on": "2027-03-01"},
                "€100.00 today and €500.00 on 1 Mar 2027; €600.00 in all",
            ),
            (
                {"kind": "deposit", "deposit_now": "30 %", "deposit_rest_after_days": "0", "deposit_more": "on"},
                {"kind": "deposit", "percent": "30", "rest_after_days": 0, "buyer_may_pay_more": True},
                "€180.00 today and €420.00 on 23 Nov 2026; €600.00 in all",
            ),
            (
                {"kind": "deposit", "deposit_now": "150", "deposit_rest_after_days": "30"},
                {"kind": "deposit", "amount": "150.00", "rest_after_days": 30},
                "€150.00 today and €450.00 on 23 Dec 2026; €600.00 in all",
            ),
        ]
        link = self.link(line(amount="600"))
        for fields, plan, words in cases:
            with self.subTest(**fields):
                answer = self.set_plans(link, **{f"one__{name}": value for name, value in fields.items()})
                self.assertEqual((answer.status_code, self.plan(link)), (200, plan), answer.content)
                self.assertIn(words, answer.json()["pieces"]["plan"])
                rehearsal = " ".join(self.client.get(f"/for/rehearsal/{link.pk}/").content.decode().split())
                later = words.partition(" today")[2] or "€600.00</strong> once"
                self.assertIn(later, rehearsal)

    def test_the_buyer_picks_one_of_several_and_sees_which_is_dearer(self) -> None:
        link = self.link(line(amount="120"))
        twelve = {"two__kind": "repeat", "two__repeat_payments": "12", "two__price_kite": "11"}
        self.set_plans(link, one__kind="once", **twelve)
        plan = self.plan(link)
        self.assertEqual([each["key"] for each in plan["of"]], ["once", "repeat"])
        self.assertEqual(plan["of"][1]["prices"], {"kite": {"kind": "fixed", "amount": "11.00"}})
        page = self.client.get(f"/for/rehearsal/{link.pk}/")
        self.assertContains(page, '<span class="level-words" data-piece="plan-once">€120.00 in all</span>')
        more = "€132.00 in all, €12.00 more than “Once”"
        self.assertContains(page, f'data-piece="plan-repeat">{more}</span>')
        # The keys stay when the ways are put in another order or changed; the price of one alone is refused.
        kept = {"plans-0-key": "once", "plans-1-key": "repeat"}
        deposit = {"one__kind": "deposit", "one__deposit_now": "5 %", "one__deposit_rest_after_days": "9"}
        self.set_plans(link, **deposit, **twelve, **kept)
        self.assertEqual([each["key"] for each in self.plan(link)["of"]], ["once", "repeat"])
        refused = self.set_plans(link, one__kind="once", one__price_kite="9")
        self.assertEqual(list(refused.json()["errors"]), ["plans-0-price_kite"])
        twins = self.set_plans(link, one__kind="once", two__kind="once")
        self.assertIn("is listed twice", str(twins.json()["errors"]["plans-1-kind"]))

    def test_what_is_missing_or_wrong_is_told_at_its_field(self) -> None:
        link = self.link(line(amount="600"))
        for fields, at in (
            ({"kind": "instalments"}, "instalments_payments"),
            ({"kind": "deposit", "deposit_rest_after_days": "3"}, "deposit_now"),
            ({"kind": "deposit", "deposit_now": "much", "deposit_rest_after_days": "3"}, "deposit_now"),
            ({"kind": "deposit", "deposit_now": "101 %", "deposit_rest_after_days": "3"}, "deposit_now"),
            ({"kind": "deposit", "deposit_now": "3"}, "deposit_rest_after_days"),
            ({"kind": "repeat", "repeat_every": "0"}, "repeat_every"),
            ({"kind": "repeat", "repeat_trial": "200", "repeat_trial_unit": "month"}, "repeat_trial"),
            ({"kind": "repeat", "repeat_payments": "3", "repeat_first": "3", "first_kite": "5"}, "repeat_first"),
            ({"kind": "repeat", "repeat_first": "3"}, "first_kite"),
            ({"kind": "repeat", "repeat_first": "3", "first_kite": "some"}, "first_kite"),
            ({"kind": "deposit", "deposit_now": "3", "deposit_rest_on": "tomorrow"}, "deposit_rest_on"),
            ({"kind": "weekly"}, "kind"),
        ):
            with self.subTest(**fields):
                answer = self.set_plans(link, **{f"one__{name}": value for name, value in fields.items()})
                self.assertEqual(list(answer.json()["errors"]), [f"plans-0-{at}"])
        self.assertIsNone(self.plan(link))

    def test_a_joining_fee_is_charged_with_the_first_payment_alone(self) -> None:
        link = self.link(line(amount="12"))
        self.set_plans(link, one__kind="repeat")
        link.refresh_from_db()
        self.save(link, by_script=False, act="joining")
        link.refresh_from_db()
        self.assertEqual(link.draft["offer"]["lines"][1], {"key": "joining-fee", "name": "Joining fee", "once": True})
        answer = self.save(link, **{"amount__joining-fee": "20"})
        words = "€32.00 today, then €12.00 on the 23rd of each month until it is ended; €164.00 for the first year"
        self.assertIn(words, answer.json()["pieces"]["plan"])
        self.assertIn("charged only once", answer.json()["pieces"]["sentence"])
        link.refresh_from_db()
        refused = self.save(link, **{"once.kite": "on"})
        self.assertEqual(list(refused.json()["errors"]), ["once.joining-fee"])

    def test_amounts_of_another_currency_are_never_taken_over(self) -> None:
        link = self.link(line(amount="600"))
        self.set_plans(link, one__kind="deposit", one__deposit_now="150", one__deposit_rest_after_days="30")
        link.refresh_from_db()
        saved = self.save(link, by_script=False, currency="GBP")
        link.refresh_from_db()
        self.assertIsNone(self.plan(link))
        self.assertContains(self.client.get(saved["Location"]), "the deposit")
