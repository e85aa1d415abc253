"""What a single page may load beyond the policy of all pages (``CONTENT_SECURITY_POLICY`` of the settings).

django-csp reads this from an attribute that its decorators set at import; here what is allowed depends on the page.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any

from django.http import HttpResponseBase


def allow(response: HttpResponseBase, directives: Mapping[str, Sequence[str]]) -> None:
    """Let the page have these directives of Content-Security-Policy in place of the usual ones of their names, beside
    those that were allowed before."""
    page: Any = response
    page._csp_replace = getattr(page, "_csp_replace", {}) | {name: list(each) for name, each in directives.items()}
