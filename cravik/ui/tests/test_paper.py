"""The typesetter, which cannot be carried into a fork."""

from __future__ import annotations

import os
import unittest
from datetime import UTC, datetime
from pathlib import Path
from tempfile import TemporaryDirectory
from unittest import mock

from cravik.ui import paper

NOW = datetime(2026, 12, 1, tzinfo=UTC)


class PaperTest(unittest.TestCase):
    def test_a_fork_of_a_process_that_used_it_is_refused_and_does_not_wait_for_ever(self) -> None:
        with TemporaryDirectory(dir=Path(paper.__file__).parent) as folder, mock.patch.object(paper, "_USED_IN", []):
            template = Path(folder) / "word.typ"
            template.write_text("#set document(date: none)\nKites")
            self.assertTrue(paper.typeset(template, {}, NOW).startswith(b"%PDF"))
            pid = os.fork()
            if pid == 0:
                try:
                    paper.typeset(template, {}, NOW)
                except RuntimeError:
                    os._exit(3)
                os._exit(4)
            self.assertEqual(os.waitstatus_to_exitcode(os.waitpid(pid, 0)[1]), 3)
