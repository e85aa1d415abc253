"""Collecting static files for the server, only when one of them changed."""

from __future__ import annotations

import hashlib
from collections.abc import Callable

from django.conf import settings
from django.contrib.staticfiles.finders import get_finders
from django.core.management import call_command


def collect_if_changed(say: Callable[[], object]) -> None:
    """Run ``collectstatic`` unless the sources are those that were collected last; ``say`` so before."""
    stamp = settings.STATIC_ROOT / ".sources"
    present = _fingerprint()
    if stamp.exists() and stamp.read_text() == present:
        return
    say()
    call_command("collectstatic", interactive=False, clear=True, verbosity=0)
    stamp.write_text(present)


def _fingerprint() -> str:
    digest = hashlib.sha256()
    for finder in get_finders():
        for name, storage in finder.list([]):
            digest.update(f"{name}\0{storage.size(name)}\0{storage.get_modified_time(name)}\n".encode())
    return digest.hexdigest()
