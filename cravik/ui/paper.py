"""Documents for paper: a Typst template (https://typst.app/docs/) and its data, as PDF.

The data is handed over as JSON and read by the template as values: nothing in it is markup. What is made is tagged, its
fonts embedded, and the same bytes whenever it is made of the same data.
"""

from __future__ import annotations

import json
import os
from collections.abc import Mapping
from datetime import UTC, datetime
from functools import cache
from pathlib import Path
from threading import Lock
from typing import TYPE_CHECKING, Any, Literal

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
#: The process that used it first.
_USED_IN: list[int] = []


class TypesettingFailed(Exception):
    """The template cannot be set with this data by this standard."""


def typeset(
    template: Path, data: Mapping[str, Any], made_at: datetime, standard: Literal["1.7", "a-3b"] = "1.7"
) -> bytes:
    """The document as PDF, dated ``made_at``, by a ``standard``: PDF 1.7, or the archive's (ISO 19005-3).

    The template reads its data as ``json(bytes(sys.inputs.data))``. Raises ``TypesettingFailed``.
    """
    _refuse_after_fork()
    inputs = {"data": json.dumps(data, ensure_ascii=False)}
    stamp = int(made_at.astimezone(UTC).timestamp())
    try:
        with _ONE_AT_A_TIME:
            made = _compiler().compile(
                str(template),
                format="pdf",
                sys_inputs=inputs,
                timestamp=stamp,
                pdf_standards=[standard],
            )
    except typst.TypstError as trouble:
        raise TypesettingFailed(str(trouble)) from trouble
    assert isinstance(made, bytes)  # one document, and no list of pictures
    return made


def _refuse_after_fork() -> None:
    """Its threads are not there in a fork of a process that used it, which would wait for them for ever."""
    if not _USED_IN:
        _USED_IN.append(os.getpid())
    if [os.getpid()] != _USED_IN:
        raise RuntimeError("The typesetter was used before this process was forked.")


@cache
def _compiler() -> typst.Compiler:
    return typst.Compiler(root=str(_ROOT), font_paths=[str(_FACES)])
