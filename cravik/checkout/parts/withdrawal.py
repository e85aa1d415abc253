"""What a buyer is told of their right to withdraw before they pay, and the tick of who has something at once."""

from __future__ import annotations

from django import forms

from cravik.checkout.parts.base import OrderPart, tick
from cravik.checkout.parts.extra import ExtraPart
from cravik.core.link.withdrawal import gives_right
from cravik.core.pricing.offer import Line
from cravik.core.text.withdrawal_words import asked_for_at_once, told_before_paying

_EXTRA = ExtraPart()


class WithdrawalPart(OrderPart):
    name = "withdrawal"
    template = "checkout/parts/withdrawal.html"
    step = "Consent"

    def add_fields(self) -> None:
        if lines := self._at_once:
            self.fields["at_once"] = tick(asked_for_at_once([line.name for line in lines]))

    @property
    def _at_once(self) -> list[Line]:
        """The lines that a buyer has at once."""
        without = self.offered.version.content.no_withdrawal
        lines = self.offered.offer.lines if gives_right(self.offered.home) else ()
        return [line for line in lines if without.get(line.key) == "at_once"]

    @property
    def told(self) -> tuple[str, ...]:
        if not gives_right(self.offered.home):
            return ()
        without = self.offered.version.content.no_withdrawal
        return told_before_paying([(line.name, line.ships, without.get(line.key)) for line in self.offered.offer.lines])

    @property
    def is_asked(self) -> bool:
        return bool(self.fields or self.told)

    @property
    def is_always_asked(self) -> bool:
        """Whether the tick is needed whatever is chosen."""
        return any(not line.optional for line in self._at_once)

    def fillable(self) -> set[str]:
        return set()

    def clean_at_once(self) -> bool:
        offer = self.offered.offer
        is_wanted = any(not _EXTRA.leaves_out(line, self.typed, offer) for line in self._at_once)
        if is_wanted and not self.cleaned_data["at_once"]:
            raise forms.ValidationError("Tick this to have it at once.")
        return bool(self.cleaned_data["at_once"])
