"""The gateway that this installation uses, by its settings."""

from __future__ import annotations

from functools import cache

from django.conf import settings
from django.utils.module_loading import import_string

from cravik.payments.gateway import Gateway


@cache
def present_gateway() -> Gateway:
    gateway: Gateway = import_string(settings.CRAVIK_GATEWAY)()
    return gateway
