"""Locking an archive with a key file or a pass phrase, as an age file that any program for the format opens.

A key file is what ``bin/cravik make-backup-key`` or ``age-keygen`` writes. With a pass phrase the whole archive passes
through memory; with a key file it does not.
"""

from __future__ import annotations

import os
from contextlib import suppress
from dataclasses import dataclass, field
from pathlib import Path

import pyrage  # type: ignore[import-untyped]

ENDING = ".age"
_KEY = "AGE-SECRET-KEY-"


class WrongKey(Exception):
    """The archive cannot be opened with what was given; the message says what is needed."""


@dataclass(frozen=True)
class Lock:
    """What locks and opens: a key of a file, or a pass phrase. Neither: archives are not locked."""

    key: str = field(default="", repr=False)
    pass_phrase: str = field(default="", repr=False)

    def __bool__(self) -> bool:
        return bool(self.key or self.pass_phrase)

    def lock(self, plain: Path, locked: Path) -> None:
        """Write ``plain`` locked."""
        if self.key:
            with plain.open("rb") as source, locked.open("wb") as target:
                pyrage.encrypt_io(source, target, [pyrage.x25519.Identity.from_str(self.key).to_public()])
        else:
            locked.write_bytes(pyrage.passphrase.encrypt(plain.read_bytes(), self.pass_phrase))

    def open(self, locked: Path, plain: Path) -> None:
        """Write ``locked`` opened. Raises ``WrongKey``, also for one that was spoiled or cut off."""
        if not self:
            raise WrongKey(
                f"{locked.name} is locked. Name its key, as in CRAVIK_BACKUP_KEY_FILE=my-key.txt or"
                " CRAVIK_BACKUP_PASS_PHRASE=…"
            )
        try:
            if self.key:
                with locked.open("rb") as source, plain.open("wb") as target:
                    pyrage.decrypt_io(source, target, [pyrage.x25519.Identity.from_str(self.key)])
            else:
                plain.write_bytes(pyrage.passphrase.decrypt(locked.read_bytes(), self.pass_phrase))
        except (pyrage.DecryptError, OSError) as trouble:
            with_what = "this key" if self.key else "this pass phrase"
            raise WrongKey(
                f"{locked.name} does not open with {with_what}: it was locked with another one, or is damaged."
            ) from trouble


def key_in(file: Path) -> str:
    """The secret key that stands in a key file. Raises ``ValueError`` where there is none, ``OSError`` where it cannot
    be read."""
    for line in file.read_text(encoding="utf-8", errors="replace").splitlines():
        if line.strip().startswith(_KEY):
            with suppress(pyrage.IdentityError):
                return str(pyrage.x25519.Identity.from_str(line.strip()))
    raise ValueError("holds no key")


def make_key_file(file: Path) -> str:
    """Write a new key, readable by its owner alone, and return the public one. Raises ``FileExistsError``."""
    identity = pyrage.x25519.Identity.generate()
    descriptor = os.open(file, os.O_WRONLY | os.O_CREAT | os.O_EXCL, 0o600)
    with os.fdopen(descriptor, "w", encoding="ascii") as out:
        out.write("# opens the back-ups of a Cravik; keep it apart from them\n")
        out.write(f"# public key: {identity.to_public()}\n{identity}\n")
    return str(identity.to_public())
