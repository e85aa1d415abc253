"""The happy path of every rule, as its docstring tells it."""

from __future__ import annotations

import doctest
import importlib
import pkgutil
import unittest

import cravik.core


class DoctestsTest(unittest.TestCase):
    def test_every_example_in_the_core_is_true(self) -> None:
        tried = 0
        for module in pkgutil.walk_packages(cravik.core.__path__, "cravik.core."):
            if not module.ispkg and ".tests." not in module.name:
                with self.subTest(module.name):
                    outcome = doctest.testmod(importlib.import_module(module.name))
                    self.assertEqual(outcome.failed, 0)
                    tried += outcome.attempted
        self.assertGreater(tried, 10)
