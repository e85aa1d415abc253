"""What back-ups are locked with, read strictly."""

from __future__ import annotations

from pathlib import Path

from cravik.config.environment import Environment
from cravik.upkeep.archive.locking import Lock, key_in

_KEY_FILE, _PASS_PHRASE = "CRAVIK_BACKUP_KEY_FILE", "CRAVIK_BACKUP_PASS_PHRASE"
_LEAST_PASS_PHRASE = 12


def backup_lock(env: Environment, data: Path) -> Lock:
    """The key or the pass phrase, of the lock; what cannot be right is noted."""
    typed, pass_phrase = env.text(_KEY_FILE), env.secret(_PASS_PHRASE, _LEAST_PASS_PHRASE)
    if typed and pass_phrase:
        env.note(_KEY_FILE, f"is set, and {_PASS_PHRASE} too: back-ups are locked with one of them. Leave one out.")
    if not typed:
        return Lock(pass_phrase=pass_phrase)
    file = Path(typed).expanduser().resolve()
    if file.is_relative_to(data):
        env.note(_KEY_FILE, "lies in the data folder, so it is lost with what it opens. Keep it elsewhere.")
    try:
        return Lock(key=key_in(file))
    except OSError as trouble:
        env.note(_KEY_FILE, f"cannot be read: {trouble.strerror}. Make one: bin/cravik make-backup-key FILE")
    except ValueError:
        env.note(_KEY_FILE, "holds no key. Make one: bin/cravik make-backup-key FILE")
    return Lock()
