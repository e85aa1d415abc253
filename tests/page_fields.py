"""What stands in the fields of a buyer's page, read from its HTML."""

from __future__ import annotations

import re
from html import unescape


def picked_in(page: str) -> dict[str, str]:
    """What stands in the page's fields as it was opened: what is chosen, how many, and the sums that were seen."""
    radios = re.findall(r'<input type="radio" name="([^"]+)" value="([^"]*)"[^>]* checked', page)
    typed = re.findall(r'<input type="text" name="((?:quantity|amount)\.[^"]+)" value="([^"]*)"', page)
    seen = re.findall(r'name="(seen_\w+)" value="([^"]*)"', page)
    return {name: unescape(value) for name, value in [*radios, *typed, *seen]}
