"""How long those stay who pay a link again and again."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from datetime import datetime
from zoneinfo import ZoneInfo

from cravik.core.english import counted, listed
from cravik.core.graphics.picture import Picture
from cravik.core.graphics.steps import MONTH, steps_picture
from cravik.core.statistics.staying import MIN_BEGUN, Stay, Staying, staying
from cravik.links.models import Link
from cravik.payments.models import Agreement
from cravik.results.over_time import WIDE

HEAD = ["days", "share", "share_low", "share_high", "at_risk"]
_STATES = (Agreement.State.RUNNING, Agreement.State.PAUSED, Agreement.State.ENDED)
#: Months after which it is said how many stay, as far as that is known.
_SAID_AFTER = (3, 6, 12)


@dataclass(frozen=True)
class LinkStaying:
    """The curve, and of whom it is: how many run, have completed, stopped or were ended since they did not pay."""

    found: Staying
    running: int
    completed: int
    stopped: int
    declined: int

    @property
    def who(self) -> str:
        """Of whom it is, in a sentence."""
        parts = [
            f"{self.running:,} still running or paused",
            *([f"{self.stopped:,} stopped"] if self.stopped else []),
            *([f"{self.declined:,} ended since a payment could not be taken"] if self.declined else []),
            *([f"{self.completed:,} paid all there was"] if self.completed else []),
        ]
        return f"{counted(self.found.begun, 'buyer', 'buyers')} began: {listed(parts, 'and')}."

    @property
    def words(self) -> str:
        """What it says, in a sentence or two."""
        found = self.found
        if not found.tells:
            why = f"{MIN_BEGUN} have to begin" if found.begun < MIN_BEGUN else "more have to end"
            return f"Too few to tell how long they stay: {why}."
        said = []
        for months in _SAID_AFTER:
            if found.longest >= months * MONTH:
                step = found.at(int(months * MONTH))
                within = f"likely {_percent(step.low)} to {_percent(step.high)}"
                said.append(f"after {months} months {_percent(step.share)} stay ({within})")
        half = (
            f"Half have gone after {_months(found.half)}." if found.half else "More than half stay as long as is known."
        )
        sentence = "; ".join(said)
        return f"{sentence[:1].upper()}{sentence[1:]}. {half}" if said else half

    def picture(self, of: str, width: int = WIDE) -> Picture:
        return steps_picture(self.found, f"{of}: how long they stay", self.words, width)


def staying_of(link: Link, now: datetime) -> LinkStaying | None:
    """Of everybody who ever began on the link, without rehearsals; None where nothing of it repeats.

    A pause is no end. Whoever has paid all there was, or runs still, is known to have stayed so long at least.
    """
    agreements = Agreement.objects.filter(
        checkout__lines__link=link, rehearsal=False, state__in=_STATES, plan__kind="repeat"
    )
    rows = list(agreements.values_list("state", "why", "begins_on", "ended_at"))
    if not rows:
        return None
    zone = ZoneInfo(link.business.time_zone)
    stays, counts = [], {"running": 0, "completed": 0, "stopped": 0, "declined": 0}
    for state, why, begins_on, ended_at in rows:
        until = (ended_at or now).astimezone(zone).date()
        became = _became(state, why)
        counts[became] += 1
        stays.append(Stay(max((until - begins_on).days, 0), became in ("stopped", "declined")))
    return LinkStaying(staying(stays), **counts)


def rows_of(found: LinkStaying) -> Iterator[list[object]]:
    """The table behind the picture: a step a row."""
    for step in found.found.steps:
        yield [step.days, *(f"{share:.4f}" for share in (step.share, step.low, step.high)), step.at_risk]


def _became(state: str, why: str) -> str:
    if state != Agreement.State.ENDED:
        return "running"
    return {"completed": "completed", "declined": "declined"}.get(why, "stopped")


def _percent(share: float) -> str:
    return f"{100 * share:.0f}\N{NO-BREAK SPACE}%"


def _months(days: int) -> str:
    return counted(max(round(days / MONTH), 1), "month", "months")
