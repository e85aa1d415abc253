"""What buyers take of several things: any number of each, one of them, or all; each by one press."""

from __future__ import annotations

from typing import Any

from cravik.core.pricing.money import Money
from cravik.links.models import Link
from cravik.orders.models import Order
from tests.bench_form import BenchCase
from tests.links import line
from tests.paying import open_page, send

ADULT, CHILD = line("adult", "Adult", "35"), line("child", "Child", "20")


class TakingTest(BenchCase):
    def press(self, act: str, *lines: dict[str, Any], **more: Any) -> Any:
        self.sold = self.link(*(lines or (ADULT, CHILD)), **more)
        answer = self.save(self.sold, act=act)
        self.sold.refresh_from_db()
        return answer

    def pay(self, **fields: str) -> int:
        """The status of what a buyer sends who says so many of each."""
        sent = open_page(self.client, self.sold) | {name.replace("__", "."): value for name, value in fields.items()}
        return int(send(self.client, self.sold, sent).status_code)

    def test_any_number_of_each_and_at_least_one(self) -> None:
        answer = self.press("any")
        self.assertIn("any of", answer.json()["pieces"]["sentence"])
        self.client.post(f"/links/{self.sold.pk}/publish/", {"revision": self.sold.revision})
        page = self.client.get(f"/for/rehearsal/{self.sold.pk}/").content.decode()
        self.assertEqual(page.count('value="0"'), 2, "each begins at nought, and there is nothing to tick")
        self.assertNotIn('name="take.', page)
        self.client.logout()
        self.sold = Link.objects.get(pk=self.sold.pk)
        self.assertEqual(self.pay(quantity__adult="0", quantity__child="0", seen_total="", seen_now=""), 400)
        for adults, children, total in (("2", "3", "130.00"), ("", "1", "20.00"), ("1", "0", "35.00")):
            sums = {"seen_total": total, "seen_now": total, "second": "yes"}
            self.assertEqual(self.pay(quantity__adult=adults, quantity__child=children, **sums), 303)
            self.assertEqual(Order.objects.latest("id").paid, Money.parse(total, "EUR"))
        wrong = self.pay(quantity__adult="-1", quantity__child="1", seen_total="20.00", seen_now="20.00")
        self.assertEqual((wrong, Order.objects.count()), (400, 3))

    def test_one_of_these(self) -> None:
        self.press("one_of")
        (one,) = self.sold.draft["offer"]["lines"]
        self.assertEqual(one["name"], "Kites")
        self.assertEqual(
            [(level["name"], level["amount"]) for level in one["price"]["levels"]],
            [("Adult", "35.00"), ("Child", "20.00")],
        )
        for lines, more, words in (
            ((ADULT, line("child", "Child", price={"kind": "open", "min": "1", "max": None})), {}, "needs one price"),
            ((ADULT, CHILD | {"ships": True}), {}, "whether they are sent"),
            (
                (ADULT, CHILD),
                {"offer": {"codes": [{"code": "A", "kind": "percent", "percent": "5"}]}},
                "Remove those first",
            ),
        ):
            answer = self.press("one_of", *lines, **more)
            self.assertIn(words, answer.content.decode())
            self.assertEqual(len(self.sold.draft["offer"]["lines"]), 2)

    def test_all_of_them_again(self) -> None:
        self.press("all", ADULT | {"optional": True}, CHILD | {"optional": True})
        self.assertEqual([each.get("optional", False) for each in self.sold.draft["offer"]["lines"]], [False, False])
