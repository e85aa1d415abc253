"""What a form sent, or what stands in its fields: a value by each field's name, or several in a ``QueryDict``."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

FormData = Mapping[str, Any]
