"""What happens to what is paid over time."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date

from cravik.core.english import day_words
from cravik.core.pricing.money import Money
from cravik.core.text.money_text import format_money_clearly
from cravik.events.kinds import of_kind


def _sum(minor: int, currency: str) -> str:
    return format_money_clearly(Money(minor, currency))


@of_kind("due.changed")
@dataclass(frozen=True)
class DueChanged:
    """``act``: skipped, waived, moved, lowered, held_back, agreed or refused; ``on`` is its day from then on."""

    act: str
    minor: int
    currency: str
    position: int
    on: str
    why: str = ""

    def words(self) -> str:
        what = _ACTS[self.act].format(sum=_sum(self.minor, self.currency), on=day_words(date.fromisoformat(self.on)))
        return f"{what}: {self.why}" if self.why else what


_ACTS = {
    "skipped": "{sum} on {on} skipped",
    "waived": "{sum} on {on} waived",
    "moved": "{sum} moved to {on}",
    "lowered": "The payment on {on} lowered to {sum}",
    "held_back": "{sum} of {on} waits for the buyer",
    "agreed": "{sum} to be charged on {on}",
    "refused": "{sum} on {on} refused by the buyer",
}


@of_kind("running.paused")
@dataclass(frozen=True)
class RunningPaused:
    """``resumes`` is the day on which it goes on by itself, or nothing."""

    why: str
    resumes: str = ""

    def words(self) -> str:
        until = f" until {day_words(date.fromisoformat(self.resumes))}" if self.resumes else ""
        return f"Payments paused{until}" + (", since one could not be taken" if self.why == "declined" else "")


@of_kind("running.resumed")
@dataclass(frozen=True)
class RunningResumed:
    def words(self) -> str:
        return "Payments go on"


@of_kind("running.stopped")
@dataclass(frozen=True)
class RunningStopped:
    """``ends`` is its last day; ``why`` what the one who stopped it says of it."""

    ends: str
    why: str = ""

    def words(self) -> str:
        return f"Stopped, to end on {day_words(date.fromisoformat(self.ends))}" + (
            f": “{self.why}”" if self.why else ""
        )


@of_kind("running.ended")
@dataclass(frozen=True)
class RunningEnded:
    """``why`` is one of ``Agreement.Why``."""

    why: str

    def words(self) -> str:
        return "Ended" + (", since a payment could not be taken" if self.why == "declined" else "")


@of_kind("running.confirm_wanted")
@dataclass(frozen=True)
class ConfirmWanted:
    minor: int
    currency: str

    def words(self) -> str:
        return f"The bank wants {_sum(self.minor, self.currency)} confirmed by its customer"


@of_kind("running.card_changed")
@dataclass(frozen=True)
class CardChanged:
    """``ending`` is how the new card ends; its buyer changed it, or its bank."""

    ending: str

    def words(self) -> str:
        return f"Card changed to the one ending in {self.ending}"


@of_kind("running.stock_short")
@dataclass(frozen=True)
class StockShort:
    def words(self) -> str:
        return "A payment came, and not enough was left for it"


@of_kind("running.price_proposed")
@dataclass(frozen=True)
class PriceProposed:
    """``on`` is the day from which it would hold."""

    minor: int
    currency: str
    on: str
    why: str = ""

    def words(self) -> str:
        said = f": “{self.why}”" if self.why else ""
        return f"{_sum(self.minor, self.currency)} proposed from {day_words(date.fromisoformat(self.on))} on{said}"


@of_kind("running.price_answered")
@dataclass(frozen=True)
class PriceAnswered:
    minor: int
    currency: str
    accepted: bool

    def words(self) -> str:
        return f"{_sum(self.minor, self.currency)} {'accepted' if self.accepted else 'declined'}"
