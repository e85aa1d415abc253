"""How long something took, as one says it."""

from __future__ import annotations

from cravik.core.english import counted
from cravik.core.statistics.pace import BOUNDS, Pace


def pace_words(pace: Pace) -> str:
    """The median of the times, or nothing where there were none."""
    return "" if pace.median is None else duration_words(pace.median)


def duration_words(seconds: float) -> str:
    """About how long that is.

    >>> [duration_words(each) for each in (12, 47, 170, 620, 5000, 80000)]
    ['about 10 seconds', 'about 45 seconds', 'about 3 minutes', 'about 10 minutes', 'about an hour', 'about 22 hours']
    """
    if seconds > BOUNDS[-1]:
        return "more than a day"
    if seconds < 55:
        return f"about {counted(max(5, 5 * round(seconds / 5)), 'second', 'seconds')}"
    if seconds < 105:
        return "about a minute" if seconds < 75 else "about a minute and a half"
    if seconds < 3300:
        return f"about {counted(round(seconds / 60), 'minute', 'minutes')}"
    hours = round(seconds / 3600)
    return "about an hour" if hours == 1 else f"about {hours} hours"
