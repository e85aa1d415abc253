"""By what one buyer is told from another."""

from __future__ import annotations

import re


def buyer_key(email: str) -> str:
    """What one buyer is told from another by: the address without regard to case, to quotation marks around the part
    before the @, and to what follows a plus there, which most hosts of mail deliver to the same person.

    >>> buyer_key("Maren+kites@Dunes.example"), buyer_key('"maren"@dunes.example'), buyer_key("+1@dunes.example")
    ('maren@dunes.example', 'maren@dunes.example', '+1@dunes.example')
    """
    local, at, host = email.strip().casefold().rpartition("@")
    if len(local) > 2 and local.startswith('"') and local.endswith('"'):
        local = re.sub(r"\\(.)", r"\1", local[1:-1])
    return f"{local.partition('+')[0] or local}{at}{host}"[:254]
