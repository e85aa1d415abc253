"""Archives: taken, verified, locked, damaged, hostile, and put in the place of what there is."""

from __future__ import annotations

import gzip
import io
import json
import sqlite3
import stat
import tarfile
import tempfile
from contextlib import closing, suppress
from pathlib import Path
from unittest import mock

from django.conf import settings
from django.test import override_settings

from cravik import VERSION
from cravik.people.models import Business
from cravik.upkeep.archive import restoring, taking
from cravik.upkeep.archive.locking import Lock, WrongKey, key_in, make_key_file
from cravik.upkeep.archive.reading import Unreadable, verify
from cravik.upkeep.archive.restoring import NotSound, finish_exchange, restore
from cravik.upkeep.archive.taking import BackupFailed, take_before_upgrade, take_by_hand, take_daily
from cravik.upkeep.archive.tests.base import ArchiveTestCase
from tests.factories import NOW

MISSING = ["files/" + "b" * 32, f"pictures/{'c' * 32}-640.webp"]


def content_of(archive: Path) -> dict[str, bytes]:
    with tarfile.open(archive) as tar:
        return {each.name: tar.extractfile(each).read() for each in tar}


def packed(path: Path, content: dict[str, bytes]) -> Path:
    with tarfile.open(path, "w:gz") as tar:
        for name, data in content.items():
            member = tarfile.TarInfo(name)
            member.size = len(data)
            tar.addfile(member, io.BytesIO(data))
    return path


class TakingTest(ArchiveTestCase):
    def test_it_holds_everything_and_is_the_owners_alone(self) -> None:
        archive = take_daily(NOW)
        self.assertEqual(stat.S_IMODE(archive.stat().st_mode), 0o600)
        content = content_of(archive)
        self.assertEqual(
            sorted(content),
            sorted(
                [
                    "cravik.sqlite3",
                    "secret_key",
                    "version",
                    "manifest.json",
                    "files/" + "a" * 32,
                    f"pictures/{'c' * 32}-320.webp",
                ]
            ),
        )
        self.assertEqual(content["secret_key"].decode(), settings.SECRET_KEY)
        verdict = verify(archive, Lock())
        self.assertEqual((verdict.faults, verdict.missing), ((), MISSING))
        manifest = verdict.manifest
        self.assertEqual((manifest.version, manifest.why, manifest.taken_at), (VERSION, "daily", NOW))
        self.assertEqual(manifest.tables["setup_business"]["rows"], Business.objects.count())
        self.assertEqual(manifest.figures, {"orders": 0})
        self.assertEqual([path.name for path in self.backups.iterdir() if path != archive], [".one-at-a-time"])

    def test_a_file_that_grows_meanwhile_does_no_harm(self) -> None:
        growing = self.data / "files" / ("a" * 32)
        read = taking._Digested.read

        def grow(self: taking._Digested, length: int = -1) -> bytes:
            with growing.open("ab") as more:
                more.write(b"more")
            return read(self, length)

        with mock.patch.object(taking._Digested, "read", grow):
            archive = take_daily(NOW)
        self.assertEqual(verify(archive, Lock()).faults, ())

    def test_one_before_an_upgrade_is_named_for_both_versions(self) -> None:
        (self.data / "version").write_text("0.1.0\n")
        name = take_before_upgrade(NOW).name
        self.assertTrue(name.startswith(f"before-{VERSION}-was-0.1.0-2026"), name)

    def test_what_fails_leaves_nothing_behind_and_says_why(self) -> None:
        self.backups.mkdir()
        (self.backups / ".part-killed").mkdir()
        full = mock.patch("shutil.disk_usage", return_value=mock.Mock(free=7_000_000))
        with full, self.assertRaisesMessage(BackupFailed, "7 MB are free. Make room there, or name another disk"):
            take_by_hand(NOW)
        broken = mock.patch("cravik.upkeep.archive.taking.gzip.GzipFile", side_effect=OSError("Input/output error"))
        with broken, self.assertRaisesMessage(BackupFailed, "Input/output error. Check the disk of"):
            take_by_hand(NOW)
        self.assertEqual([path.name for path in self.backups.iterdir()], [".one-at-a-time"])


class LockedTest(ArchiveTestCase):
    def test_with_a_key_file(self) -> None:
        with tempfile.TemporaryDirectory() as elsewhere:
            file = Path(elsewhere) / "key.txt"
            make_key_file(file)
            with self.assertRaises(FileExistsError):
                make_key_file(file)
            self.assertEqual(stat.S_IMODE(file.stat().st_mode), 0o600)
            lock = Lock(key=key_in(file))
        self.hold_to(lock, Lock(pass_phrase="another one"))
        with self.assertRaises(ValueError):
            key_in(Path(__file__))

    def test_with_a_pass_phrase(self) -> None:
        self.hold_to(Lock(pass_phrase="kites on the beach"), Lock(pass_phrase="kites on the breach"))

    def hold_to(self, lock: Lock, wrong: Lock) -> None:
        with override_settings(CRAVIK_BACKUP_LOCK=lock):
            archive = take_by_hand(NOW)
        self.assertTrue(archive.name.endswith(".tar.gz.age"))
        self.assertNotIn(b"SQLite", archive.read_bytes())
        self.assertEqual(verify(archive, lock).faults, ())
        for other, words in ((wrong, "does not open with this"), (Lock(), "is locked. Name its key")):
            with self.assertRaisesMessage(WrongKey, words):
                verify(archive, other)
        archive.write_bytes(archive.read_bytes()[:-2000])
        with self.assertRaisesMessage(WrongKey, "or is damaged"):
            verify(archive, lock)


class DamagedTest(ArchiveTestCase):
    def setUp(self) -> None:
        super().setUp()
        self.archive = take_daily(NOW)
        self.whole = self.archive.read_bytes()

    def test_cut_off_anywhere_it_is_refused(self) -> None:
        for part in (0, 1, 100, len(self.whole) // 2, len(self.whole) - 9, len(self.whole) - 1):
            with self.subTest(part):
                self.archive.write_bytes(self.whole[:part])
                with self.assertRaises(Unreadable):
                    verify(self.archive, Lock())

    def test_a_flipped_bit_anywhere_is_seen(self) -> None:
        # One may make another spelling of the same zeros, which is no damage.
        content = gzip.decompress(self.whole)
        for at in range(40, len(self.whole), len(self.whole) // 12):
            spoiled = bytearray(self.whole)
            spoiled[at] ^= 4
            self.archive.write_bytes(spoiled)
            with self.subTest(at):
                try:
                    if not verify(self.archive, Lock()).faults:
                        self.assertEqual(gzip.decompress(bytes(spoiled)), content)
                except Unreadable:
                    continue

    def test_each_file_that_is_missing_or_differs_is_told(self) -> None:
        content = content_of(self.archive)
        content["files/" + "a" * 32] = b"pdg"
        content["files/" + "d" * 32] = b"?"
        del content[f"pictures/{'c' * 32}-320.webp"]
        said = " ".join(verify(packed(self.archive, content), Lock()).faults)
        for words in (
            "files/aaaa",
            "pictures/cccc",
            "files/dddd",
            "not what was put in",
            "is missing",
            "does not name",
        ):
            self.assertIn(words, said)

    def test_counts_and_sums_are_held_against_the_manifest(self) -> None:
        content = content_of(self.archive)
        manifest = json.loads(content["manifest.json"])
        manifest["tables"]["links_link"]["rows"] += 1
        manifest["figures"]["taken EUR"] = 100
        content["manifest.json"] = json.dumps(manifest).encode()
        said = " ".join(verify(packed(self.archive, content), Lock()).faults)
        self.assertIn("Counts and sums of the database differ: links_link.", said)
        self.assertIn("Orders or money", said)

    def test_one_of_a_later_version_is_not_read(self) -> None:
        content = content_of(self.archive)
        manifest = json.loads(content["manifest.json"]) | {"version": "9.0.0"}
        content["manifest.json"] = json.dumps(manifest).encode()
        self.assertIn("version 9.0.0", " ".join(verify(packed(self.archive, content), Lock()).faults))
        content["manifest.json"] = json.dumps(manifest | {"format": 2}).encode()
        with self.assertRaisesMessage(Unreadable, "of a later format"):
            verify(packed(self.archive, content), Lock())

    def test_what_is_no_archive_is_named(self) -> None:
        for content, words in (
            (b"SQLite format 3\0", "a copy of a database alone"),
            (b"%PDF-1.7", "is no archive"),
            (gzip.compress(b"hello"), "damaged"),
        ):
            self.archive.write_bytes(content)
            with self.assertRaisesMessage(Unreadable, words):
                verify(self.archive, Lock())
        with self.assertRaisesMessage(Unreadable, "There is no file"):
            verify(self.data / "nothing.tar.gz", Lock())

    def test_a_hostile_one_writes_nowhere_else(self) -> None:
        for name in (
            "../escaped",
            "/tmp/escaped",
            "files/../../escaped",
            "static/x",
            "files/a/b",
            "cravik.sqlite3-wal",
        ):
            with self.subTest(name), self.assertRaisesMessage(Unreadable, "which no archive of Cravik does"):
                verify(packed(self.archive, {name: b"x"}), Lock())
        with tarfile.open(self.archive, "w:gz") as tar:
            link = tarfile.TarInfo("files/link")
            link.type, link.linkname = tarfile.SYMTYPE, "/etc/passwd"
            tar.addfile(link)
        with self.assertRaisesMessage(Unreadable, "which no archive of Cravik does"):
            verify(self.archive, Lock())


class RestoringTest(ArchiveTestCase):
    def setUp(self) -> None:
        super().setUp()
        self.archive = take_daily(NOW)
        self.lay_out()

    def lay_out(self) -> None:
        """A data folder that holds something else."""
        self.there = Path(self.enterContext(tempfile.TemporaryDirectory()))
        for name, content in (
            ("cravik.sqlite3", b"old"),
            ("cravik.sqlite3-wal", b"old wal"),
            ("secret_key", b"old key"),
            ("files/x", b"old file"),
        ):
            (self.there / name).parent.mkdir(exist_ok=True)
            (self.there / name).write_bytes(content)

    def is_restored(self) -> None:
        with closing(sqlite3.connect(self.there / "cravik.sqlite3")) as database:
            self.assertEqual(
                database.execute("SELECT name FROM setup_business").fetchall(), [(self.link.business.name,)]
            )
        self.assertEqual((self.there / "secret_key").read_text(), settings.SECRET_KEY)
        self.assertEqual([path.name for path in (self.there / "files").iterdir()], ["a" * 32])
        (replaced,) = self.there.glob("replaced-*")
        for name, content in (
            ("cravik.sqlite3", b"old"),
            ("cravik.sqlite3-wal", b"old wal"),
            ("secret_key", b"old key"),
        ):
            self.assertEqual((replaced / name).read_bytes(), content)
        self.assertEqual((replaced / "files" / "x").read_bytes(), b"old file")
        self.assertFalse((self.there / "cravik.sqlite3-wal").exists())
        self.assertEqual(list(self.there.glob("restoring-*")) + list(self.there.glob("exchanging")), [])

    def test_it_takes_the_place_and_what_was_there_is_kept(self) -> None:
        done = restore(self.archive, self.there, Lock(), NOW)
        self.is_restored()
        self.assertEqual(done.manifest.missing, MISSING)

    def test_into_an_empty_folder_nothing_is_kept(self) -> None:
        with tempfile.TemporaryDirectory() as empty:
            self.assertIsNone(restore(self.archive, Path(empty) / "new", Lock(), NOW).replaced)
            self.assertEqual(
                sorted(path.name for path in (Path(empty) / "new").iterdir()),
                [
                    "cravik.sqlite3",
                    "files",
                    "pictures",
                    "secret_key",
                    "version",
                ],
            )

    def test_one_that_is_not_sound_changes_nothing(self) -> None:
        content = content_of(self.archive)
        content["files/" + "a" * 32] = b"pdg"
        packed(self.archive, content)
        before = sorted(self.there.rglob("*"))
        with self.assertRaises(NotSound):
            restore(self.archive, self.there, Lock(), NOW)
        self.assertEqual(sorted(self.there.rglob("*")), before)
        restore(self.archive, self.there, Lock(), NOW, despite_faults=True)
        self.is_restored()

    def test_cut_off_at_any_step_the_next_start_finishes_it(self) -> None:
        class Cut(Exception):
            pass

        for step in range(12):
            with self.subTest(step):
                self.lay_out()
                left = iter(range(step))
                rename = Path.rename

                def cut(path: Path, target: Path, left=left, rename=rename) -> Path:
                    if path.name != ".exchanging" and next(left, None) is None:
                        raise Cut
                    return rename(path, target)

                with mock.patch.object(restoring.Path, "rename", cut), suppress(Cut):
                    restore(self.archive, self.there, Lock(), NOW)
                if not (self.there / "secret_key").exists():  # as a start does that was cut off too
                    (self.there / "secret_key").write_text("made in between")
                finish_exchange(self.there)
                self.is_restored()
                self.assertFalse(finish_exchange(self.there))
