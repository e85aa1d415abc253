"""What the documents point to is there."""

from __future__ import annotations

import ast
import importlib.util
import re
import unittest
from types import ModuleType
from unittest import mock

from django.test import TestCase

from bench import results
from tests.running import PROJECT

_ENDING = re.compile(r"\.(py|html|scss|js|md|toml)$|/$")
_IN_TICKS = re.compile(r"`([\w./-]+)`")
_LINKED = re.compile(r"\]\(([\w./-]+)\)")
#: Data that a running application makes, and addresses of its pages.
_MADE = ("var/", "/")


class BenchTest(unittest.TestCase):
    def test_what_the_benches_measure_is_there(self) -> None:
        """They run by hand alone, so that nothing else would tell that a name they import has moved."""
        for bench in (PROJECT / "bench").glob("*.py"):
            for node in ast.walk(ast.parse(bench.read_text())):
                if isinstance(node, ast.ImportFrom) and (node.module or "").startswith(("cravik", "tests")):
                    module = importlib.import_module(node.module or "")
                    for name in node.names:
                        with self.subTest(bench.name, name=name.name):
                            self.assertTrue(_has(module, name.name))


class FilledBenchTest(TestCase):
    def test_what_the_results_are_measured_on_fits_the_tables(self) -> None:
        """Its rows are written by SQL, which a new column would break."""
        sizes = {"VISITS": 200, "ORDERS": 40, "LINKS": 2, "SPOTS": 4}
        with mock.patch.multiple(results, **sizes):
            business, user = results._business()
            results._fill(business)
        self.client.force_login(user, backend="django.contrib.auth.backends.ModelBackend")
        page = self.client.get("/orders/", {"option": "2.4 m", "way": "card"}).context["page"]
        self.assertEqual(page.paginator.count, 10)


def _has(module: ModuleType, name: str) -> bool:
    """Whether a name can be imported from the module: something in it, or a module of its package."""
    is_inside = hasattr(module, "__path__") and importlib.util.find_spec(f"{module.__name__}.{name}") is not None
    return hasattr(module, name) or is_inside


class DocsTest(unittest.TestCase):
    def test_every_file_that_is_named_is_there(self) -> None:
        looked_at = 0
        for page in [PROJECT / "README.md", PROJECT / "CHANGELOG.md", *(PROJECT / "docs").glob("**/*.md")]:
            text = page.read_text()
            linked = [page.parent / target for target in _LINKED.findall(text)]
            named = [name for name in _IN_TICKS.findall(text) if "/" in name and _ENDING.search(name)]
            for name in named:
                with self.subTest(page.name, name=name):
                    roots = (PROJECT, PROJECT / "cravik", *(PROJECT / "cravik").iterdir(), page.parent)
                    self.assertTrue(name.startswith(_MADE) or any((root / name).exists() for root in roots), name)
                    looked_at += 1
            for target in linked:
                with self.subTest(page.name, target=str(target)):
                    self.assertTrue(target.exists(), target)
        self.assertGreater(looked_at, 40)
