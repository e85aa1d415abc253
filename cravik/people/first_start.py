"""Who may open the first business: whoever has the address that the start prints, or sits at the machine itself.

Through a proxy everybody may ask, so whoever came first could take the installation. The token stands in a file of the
data folder until there is a user, and nowhere else.
"""

from __future__ import annotations

import hmac
import secrets
import sys
from contextlib import suppress
from pathlib import Path
from urllib.parse import urlsplit

from django.conf import settings
from django.http import HttpRequest

from cravik.people.models import User
from cravik.ui.loopback import was_asked_here

_OUR_OWN = ("localhost", "127.0.0.1", "::1")


def line_at_start(base: str) -> str:
    """Where the first business is opened; nothing once there is one. A log is told only where the token is."""
    if User.objects.exists():
        _file().unlink(missing_ok=True)
        return ""
    token = _token()
    if sys.stdout.isatty():
        return f"  Open the first business at  {base}/start/?token={token}"
    return f"  Open the first business at  {base}/start/?token=…  with the token that stands in {_file()}"


def may_start(request: HttpRequest) -> bool:
    """Whether this request may open the first business."""
    sent = request.POST.get("token") or request.GET.get("token") or ""
    with suppress(FileNotFoundError):
        if sent and hmac.compare_digest(sent.encode(), _file().read_bytes().strip()):
            return True
    return _is_at_the_machine(request)


def forget_token() -> None:
    """The first business is open: its address opens nothing any more."""
    _file().unlink(missing_ok=True)


def _is_at_the_machine(request: HttpRequest) -> bool:
    # Where buyers come by another name there is a proxy, and what it passes on need not say so.
    asked = {f"//{request.get_host()}", settings.CRAVIK_PUBLIC_ADDRESS or "//localhost"}
    return was_asked_here(request) and all(urlsplit(address).hostname in _OUR_OWN for address in asked)


def _token() -> str:
    file = _file()
    if not file.exists():  # only one Cravik at a time serves a folder
        made = file.with_suffix(".new")
        made.touch(0o600)
        made.write_text(secrets.token_urlsafe(24), encoding="ascii")
        made.replace(file)  # whole or not at all
    return file.read_text(encoding="ascii").strip()


def _file() -> Path:
    return Path(settings.DATA_DIR) / "start-token"
