"""What stands at the head of a buyer's page: each notice by its code, its words in ``templates/checkout/notices``."""

from __future__ import annotations

from typing import Literal, NamedTuple


class Notice(NamedTuple):
    """``is_alert`` where it is said at once to whoever listens to the page."""

    code: str
    level: Literal["error", "warning"] = "warning"
    is_alert: bool = True

    @property
    def template(self) -> str:
        return f"checkout/notices/{self.code}.html"


NOTICES = {
    notice.code: notice
    for notice in (
        Notice("mistakes", "error"),
        Notice("address_ignored", is_alert=False),
        Notice("address_altered", is_alert=False),
        Notice("sum_unreadable", is_alert=False),
        Notice("currency_not_taken", is_alert=False),
        Notice("altered", "error"),
        Notice("page_used"),
        Notice("version_changed"),
        Notice("sum_changed"),
        Notice("step_reached"),
        Notice("paid_already"),
        Notice("one_under_way"),
        Notice("too_many_under_way"),
        Notice("sold_out"),
        Notice("no_place_left"),
        Notice("too_few_left"),
        Notice("code_used_up"),
        Notice("code_used_by_you"),
        Notice("enough_for_one"),
        Notice("called_off"),
        Notice("not_reached", "error"),
    )
}
