"""Documents for paper: a Typst template (https://typst.app/docs/) and its data, as PDF.

The data is handed over as JSON and read by the template as values: nothing in it is markup. What is made is tagged, its
fonts embedded, and the same bytes whenever it is made of the same data.
"""

from __future__ import annotations

import json
from collections.abc import Mapping
from datetime import UTC, datetime
from functools import cache
from pathlib import Path
from threading import Lock
from typing import TYPE_CHECKING, Any

from cravik.later import later

if TYPE_CHECKING:
    import typst
else:
    typst = later("typst")

_FACES = Path(__file__).parent / "faces"
#: The root of what templates may read: every room has its own beside its code.
_ROOT = Path(__file__).parent.parent
#: A compiler is not for two threads at once.
_ONE_AT_A_TIME = Lock()


def typeset(template: Path, data: Mapping[str, Any], made_at: datetime) -> bytes:
    """The document as PDF, dated ``made_at``. The template reads its data as ``json(bytes(sys.inputs.data))``."""
    inputs = {"data": json.dumps(data, ensure_ascii=False)}
    stamp = int(made_at.astimezone(UTC).timestamp())
    with _ONE_AT_A_TIME:
        made = _compiler().compile(str(template), format="pdf", sys_inputs=inputs, timestamp=stamp)
    assert isinstance(made, bytes)  # one document, and no list of pictures
    return made


@cache
def _compiler() -> typst.Compiler:
    return typst.Compiler(root=str(_ROOT), font_paths=[str(_FACES)])
