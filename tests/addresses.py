"""Every address of the application."""

from __future__ import annotations

from django.urls import URLPattern, URLResolver, get_resolver


def named_addresses() -> dict[str, list[str]]:
    """Every address of the application by name, with the names of its arguments."""
    return {name: list(pattern.pattern.regex.groupindex) for name, pattern in _named().items()}


def permissions_by_address() -> dict[str, frozenset[str] | None]:
    """What every address needs, by its name; None where its view has no door."""
    return {name: getattr(pattern.callback, "permissions", None) for name, pattern in _named().items()}


def _named() -> dict[str, URLPattern]:
    found: dict[str, URLPattern] = {}

    def walk(patterns: list[URLPattern | URLResolver], namespace: str) -> None:
        for pattern in patterns:
            if isinstance(pattern, URLResolver):
                walk(pattern.url_patterns, f"{pattern.namespace}:" if pattern.namespace else namespace)
            else:
                name = f"{namespace}{pattern.name or pattern.callback.__name__}"
                found[name] = pattern

    walk(get_resolver().url_patterns, "")
    return found
