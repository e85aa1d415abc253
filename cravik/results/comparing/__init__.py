"""What results compare, one kind a file. A new kind is its file and its place here."""

from __future__ import annotations

from cravik.results.comparing.base import ComparedKind
from cravik.results.comparing.campaigns import CAMPAIGNS
from cravik.results.comparing.codes import CODES
from cravik.results.comparing.copies import COPIES
from cravik.results.comparing.devices import DEVICES
from cravik.results.comparing.links import LINKS
from cravik.results.comparing.sites import SITES
from cravik.results.comparing.spots import SPOTS
from cravik.results.comparing.versions import VERSIONS

#: For all links of a business, and for one, in the order in which they are offered; the first is the usual one.
OF_ALL_LINKS: dict[str, ComparedKind] = {kind.key: kind for kind in (LINKS, CAMPAIGNS, SITES, DEVICES, CODES)}
OF_LINK: dict[str, ComparedKind] = {
    kind.key: kind for kind in (SPOTS, CAMPAIGNS, SITES, DEVICES, CODES, VERSIONS, COPIES)
}
