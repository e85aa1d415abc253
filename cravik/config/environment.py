"""The environment read strictly: what cannot be right is told in one sentence, with the value and the remedy.

Everything that is wrong is told at once. ``Environment`` notes it while the settings are read, and ``refuse_wrong``
raises ``WrongSettings``, upon which the command line ends with status 2.
"""

from __future__ import annotations

from collections.abc import Mapping
from urllib.parse import urlsplit

_YES, _NO = ("1", "yes", "true", "on"), ("", "0", "no", "false", "off")
_MAX_SHOWN = 60


class WrongSettings(Exception):
    """Some settings cannot be right; ``sentences`` say which and what to write instead."""

    def __init__(self, sentences: list[str]) -> None:
        super().__init__("\n".join(sentences))
        self.sentences = sentences


class Environment:
    """Settings by their names; what is wrong is collected, and read as its default meanwhile."""

    def __init__(self, values: Mapping[str, str]) -> None:
        self._values = values
        self._wrong: list[str] = []

    def text(self, name: str, default: str = "") -> str:
        return self._values.get(name, default).strip()

    def yes_or_no(self, name: str) -> bool:
        """Off unless it is said; ``1``, ``yes``, ``true`` and ``on``, or ``0``, ``no``, ``false`` and ``off``."""
        typed = self.text(name)
        if typed.lower() not in _YES + _NO:
            self.note(name, "is neither yes nor no. Write 1 or 0.")
        return typed.lower() in _YES

    def whole(self, name: str, default: int, least: int, most: int) -> int:
        """A whole number within its bounds."""
        typed = self.text(name)
        if not typed:
            return default
        if not (typed.isascii() and typed.isdigit() and len(typed) < 12 and least <= int(typed) <= most):
            self.note(name, f"is no whole number from {least:,} to {most:,}. Write one, or leave it out for {default}.")
            return default
        return int(typed)

    def several(self, name: str, default: list[str]) -> list[str]:
        """Texts with commas between them."""
        typed = self.text(name)
        return [each.strip() for each in typed.split(",") if each.strip()] if typed else default

    def web_address(self, name: str) -> str:
        """Scheme and host, without a slash at the end and without a path; nothing where it is not set."""
        typed = self.text(name).rstrip("/")
        if not typed:
            return ""
        try:
            parts = urlsplit(typed)
            is_right = parts.scheme in ("http", "https") and bool(parts.hostname) and not parts.path and not parts.query
            parts.port  # noqa: B018  # raises for what is no port
        except ValueError:
            is_right = False
        if not is_right:
            self.note(name, "is no address of a site. Write scheme and host, such as https://pay.your-name.example.")
            return ""
        return typed

    def note(self, name: str, words: str) -> None:
        """Something is wrong with that setting."""
        self._wrong.append(f"{name}={_shown(self._values.get(name, ''))} {words}")

    def secret(self, name: str, least: int) -> str:
        """A text of at least so many characters, or nothing. It is not shown again."""
        typed = self.text(name)
        if typed and len(typed) < least:
            self._wrong.append(f"{name} has fewer than {least} characters. Use a longer one.")
            return ""
        return typed

    def refuse_wrong(self) -> None:
        """Raises ``WrongSettings`` with everything that was noted."""
        if self._wrong:
            raise WrongSettings(self._wrong)


def _shown(value: str) -> str:
    return repr(value if len(value) <= _MAX_SHOWN else f"{value[:_MAX_SHOWN]}…")
