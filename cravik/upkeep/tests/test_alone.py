"""One supervisor a folder, and files that are their owner's alone."""

from __future__ import annotations

import os
import stat
import subprocess
import sys
import tempfile
from pathlib import Path

from django.test import SimpleTestCase

from cravik.upkeep.alone import AlreadyRunning, hold_folder, keep_to_owner


class FolderTest(SimpleTestCase):
    def setUp(self) -> None:
        self.folder = Path(self.enterContext(tempfile.TemporaryDirectory())) / "data"

    def test_a_second_one_is_refused_in_true_words_and_may_start_when_the_first_is_gone(self) -> None:
        command = (
            "import sys; from pathlib import Path; from cravik.upkeep.alone import hold_folder;"
            " held = hold_folder(Path(sys.argv[1])); print('held', flush=True); sys.stdin.read()"
        )
        with subprocess.Popen(
            [sys.executable, "-c", command, str(self.folder)], stdin=subprocess.PIPE, stdout=subprocess.PIPE
        ) as other:
            assert other.stdout is not None
            self.assertEqual(other.stdout.readline(), b"held\n")
            with self.assertRaisesRegex(AlreadyRunning, f"already runs on the data folder .*process {other.pid}"):
                hold_folder(self.folder)
            other.kill()
        hold_folder(self.folder).close()

    def test_what_others_could_read_they_can_read_no_more(self) -> None:
        self.folder.mkdir(mode=0o755)
        (self.folder / "backups" / ".part-killed").mkdir(parents=True)
        files = [self.folder / name for name in ("cravik.sqlite3", "cravik.sqlite3-wal", "backups/cravik-1.sqlite3")]
        for file in files:
            file.touch(mode=0o644)
        before = os.umask(0o022)
        try:
            keep_to_owner(self.folder, self.folder / "backups")
            (self.folder / "new").touch()
        finally:
            os.umask(before)
        self.assertEqual(stat.S_IMODE(self.folder.stat().st_mode), 0o700)
        for file in [*files, self.folder / "new"]:
            self.assertEqual(stat.S_IMODE(file.stat().st_mode), 0o600, file)
