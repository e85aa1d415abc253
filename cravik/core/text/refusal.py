"""What a service raises that does not do what was asked: faults as data, said in the words of its room.

>>> class FileRefused(Refusal):
...     words = {"file_empty": "“{title}” was not taken: it is empty."}
>>> refused = FileRefused.of("file_empty", title="pattern.pdf")
>>> refused.faults[0].code, str(refused)
('file_empty', '“pattern.pdf” was not taken: it is empty.')
"""

from __future__ import annotations

from typing import Any, ClassVar, Self

from cravik.core.errors import CoreError, Fault
from cravik.core.text.faults import all_fault_words
from cravik.core.text.faults.wording import Words


class Refusal(CoreError):
    """The root of what services refuse. Callers go by ``faults``; its text is for people."""

    #: Those of the room, by codes.
    words: ClassVar[Words] = {}

    @classmethod
    def of(cls, code: str, at: str = "", /, **fields: Any) -> Self:
        """The refusal for one reason."""
        return cls(Fault(code, at, **fields))

    @property
    def sentences(self) -> tuple[str, ...]:
        """One or two sentences for each reason, none twice."""
        return all_fault_words(self.faults, self.words)

    def __str__(self) -> str:
        return " ".join(self.sentences)
