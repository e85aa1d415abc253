"""What can be done to many links at once: one act a file, each with a look at what it would do to every link.

Lists, looks and doing go through ``MANY_ACTS`` alone. Each link is changed in a transaction of its own, so that a
long row of them holds nobody up, and what could not be done to one is told of that one.
"""

from cravik.links.many.archiving import ArchiveAct
from cravik.links.many.base import ManyAct
from cravik.links.many.ending import EndAtAct
from cravik.links.many.exporting import ExportAct
from cravik.links.many.labelling import LabelAct
from cravik.links.many.pricing import PriceAct
from cravik.links.many.spotting import SpotAct
from cravik.links.many.states import PauseAct, PauseUntilAct, ResumeAct

#: In the order in which they are offered.
MANY_ACTS: dict[str, type[ManyAct]] = {
    str(act.name): act
    for act in (LabelAct, SpotAct, PriceAct, EndAtAct, PauseAct, PauseUntilAct, ResumeAct, ArchiveAct, ExportAct)
}

__all__ = ["MANY_ACTS", "ManyAct"]
