"""Saying on the bench that buyers can't withdraw from buying a line."""

from __future__ import annotations

from tests.bench_form import BenchCase
from tests.links import line


class WithdrawalTest(BenchCase):
    def test_it_is_said_of_a_line_and_goes_with_it(self) -> None:
        link = self.link(line(), line("tail-1", "Tail"))
        answer = self.save(link, **{"no_withdrawal.tail-1": "made_to_order"})
        self.assertIn("made to order", answer.json()["pieces"]["decided"])
        link.refresh_from_db()
        self.assertEqual(link.draft["no_withdrawal"], {"tail-1": "made_to_order"})
        self.save(link, by_script=False, act="remove:tail-1")
        link.refresh_from_db()
        self.assertNotIn("no_withdrawal", link.draft)

    def test_saying_that_they_can_says_nothing_and_nonsense_is_refused(self) -> None:
        link = self.link(line(), no_withdrawal={"kite": "dated"})
        self.assertIn("no_withdrawal.kite", self.save(link, **{"no_withdrawal.kite": "never"}).json()["errors"])
        link.refresh_from_db()
        self.save(link, **{"no_withdrawal.kite": ""})
        link.refresh_from_db()
        self.assertNotIn("no_withdrawal", link.draft)

    def test_nobody_is_asked_where_there_is_no_such_right(self) -> None:
        self.member.business.country = "US"
        self.member.business.save()
        page = self.client.get(f"/links/{self.link().pk}/")
        self.assertNotContains(page, "withdraw")
