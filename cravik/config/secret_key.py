"""The installation's secret key: made at the first start and kept beside the database."""

from __future__ import annotations

import os
import secrets
from pathlib import Path


def secret_key_in(path: Path, *, may_be_made: bool = True) -> str:
    """The key in the file at ``path``, which is made, readable by its owner alone, if missing. Where it may not be
    made, one that is kept nowhere. Raises ``OSError`` where it cannot be read or written.

    Two processes that start at once agree: the file is linked into place whole, and only once.
    """
    try:
        return path.read_text(encoding="ascii").strip()
    except FileNotFoundError:
        if not may_be_made:
            return secrets.token_urlsafe(64)
    path.parent.mkdir(parents=True, exist_ok=True)
    draft = path.with_name(f".{path.name}.{os.getpid()}")
    descriptor = os.open(draft, os.O_WRONLY | os.O_CREAT | os.O_EXCL, 0o600)
    with os.fdopen(descriptor, "w", encoding="ascii") as file:
        file.write(secrets.token_urlsafe(64))
    try:
        os.link(draft, path)
    except FileExistsError:
        pass
    finally:
        draft.unlink()
    return path.read_text(encoding="ascii").strip()
