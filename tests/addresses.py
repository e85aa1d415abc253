"""Every address of the application."""

from __future__ import annotations

from django.urls import URLPattern, URLResolver, get_resolver


def named_addresses() -> dict[str, list[str]]:
    """Every address of the application by name, with the names of its arguments."""
    found: dict[str, list[str]] = {}

    def walk(patterns: list[URLPattern | URLResolver], namespace: str) -> None:
        for pattern in patterns:
            if isinstance(pattern, URLResolver):
                walk(pattern.url_patterns, f"{pattern.namespace}:" if pattern.namespace else namespace)
            else:
                name = f"{namespace}{pattern.name or pattern.callback.__name__}"
                found[name] = list(pattern.pattern.regex.groupindex)

    walk(get_resolver().url_patterns, "")
    return found
