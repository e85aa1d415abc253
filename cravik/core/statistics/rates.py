"""How often something happened, and how sure a number of that size lets one be.

The interval is Wilson's score interval at 95 % (E. B. Wilson, "Probable inference, the law of
succession, and statistical inference", JASA 22, 1927), which stays inside 0–1 and is honest for
small numbers. These are statistics, not money, so floating point is right here.

>>> rate = conversion(40, 412)
>>> [round(bound, 4) for bound in (rate.share, rate.low, rate.high)]
[0.0971, 0.0721, 0.1295]
"""

from __future__ import annotations

from dataclasses import dataclass
from math import sqrt

#: Below this many visits a rate is noise, and the screens say so instead of showing it.
MIN_VISITS_TO_TELL = 20

_Z_95 = 1.959963984540054


@dataclass(frozen=True)
class Rate:
    """``share`` and its likely bounds, each from 0 to 1, out of ``of`` visits."""

    share: float
    low: float
    high: float
    of: int

    @property
    def happened(self) -> int:
        """How many it happened to."""
        return round(self.share * self.of)

    @property
    def tells(self) -> bool:
        """False where there are too few visits to say anything."""
        return self.of >= MIN_VISITS_TO_TELL


def conversion(happened: int, of: int) -> Rate:
    """The rate of ``happened`` out of ``of`` with Wilson's bounds; all of 0 to 1 when ``of`` is 0.

    Raises ``ValueError`` unless 0 ≤ happened ≤ of.
    """
    if not 0 <= happened <= of:
        raise ValueError(f"{happened} out of {of} is no rate")
    return Rate(happened / of, *wilson(happened / of, of), of) if of else Rate(0.0, 0.0, 1.0, 0)


def wilson(share: float, of: float, z: float = _Z_95) -> tuple[float, float]:
    """Wilson's bounds of a share of ``of``, at the level whose normal deviate is ``z``; ``of`` is above 0."""
    z2 = z * z
    centre = (share + z2 / (2 * of)) / (1 + z2 / of)
    reach = z * sqrt(share * (1 - share) / of + z2 / (4 * of * of)) / (1 + z2 / of)
    return max(0.0, centre - reach), min(1.0, centre + reach)
