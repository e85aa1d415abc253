"""Holds what is said of a refusal against a pattern."""

from __future__ import annotations

import unittest
from collections.abc import Iterator
from contextlib import contextmanager

from cravik.core.errors import CoreError
from cravik.core.text.faults import fault_words


@contextmanager
def refused_with(test: unittest.TestCase, kind: type[CoreError], words: str) -> Iterator[None]:
    """Something inside raises ``kind``, and the words of its faults match ``words``."""
    with test.assertRaises(kind) as refused:
        yield
    test.assertRegex(" ".join(fault_words(fault) for fault in refused.exception.faults), words)
