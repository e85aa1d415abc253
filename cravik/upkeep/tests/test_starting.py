"""What a command imports before it does anything."""

from __future__ import annotations

import subprocess
import sys
import unittest
from unittest import mock

from django.conf import settings

from cravik.upkeep import hooks
from cravik.upkeep.hooks import check_hooks, hang

#: What takes long to import, and is for drawing, letters and pages alone.
_NOT_FOR_COMMANDS = ("PIL.ImageFont", "reportlab", "segno", "fontTools", "zxingcpp", "markdown_it", "pydantic")
_LISTS = """
import os, sys
os.environ["DJANGO_SETTINGS_MODULE"] = "cravik.config.test_settings"
import django
django.setup()
print("\\n".join(sys.modules))
"""
_LOOKS_AT_ONCE = """
import threading
from cravik.later import later
picture, start, found = later("PIL.Image"), threading.Barrier(12), []
def look():
    start.wait()
    found.append(picture.open)
threads = [threading.Thread(target=look) for _ in range(12)]
for thread in threads: thread.start()
for thread in threads: thread.join()
import PIL
print(len(found), PIL.Image.new("1", (2, 3)).size)
"""


class StartingTest(unittest.TestCase):
    def test_a_command_imports_no_page_and_nothing_that_draws(self) -> None:
        command = [sys.executable, "-c", _LISTS]
        done = subprocess.run(command, cwd=settings.PROJECT_DIR, capture_output=True, text=True, check=True)
        loaded = set(done.stdout.split())
        self.assertIn("cravik.orders.models", loaded)
        views = {name for name in loaded if name.startswith("cravik.") and name.endswith("views")}
        self.assertEqual((views, loaded & set(_NOT_FOR_COMMANDS)), (set(), set()))

    def test_threads_that_look_at_once_at_what_is_imported_later_all_find_it(self) -> None:
        command = [sys.executable, "-c", _LOOKS_AT_ONCE]
        done = subprocess.run(command, cwd=settings.PROJECT_DIR, capture_output=True, text=True)
        self.assertEqual(done.stdout, "12 (2, 3)\n", done.stderr)

    def test_a_function_that_is_hung_nowhere_and_one_that_is_none_are_told(self) -> None:
        self.assertEqual(check_hooks(), [])
        with mock.patch.dict(hooks._HUNG, clear=False):
            hang("cravik.upkeep.hooks.hang", "cravik.upkeep.hooks.nothing")
            self.assertEqual(len(check_hooks()), 2)
