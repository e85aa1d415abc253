"""Every setting wrong in several ways: a sentence with its value and the remedy, and nothing starts."""

from __future__ import annotations

import os
import subprocess
import sys
import tempfile
from pathlib import Path
from unittest import TestCase

from cravik import VERSION
from cravik.config.environment import Environment, WrongSettings

PROJECT = Path(__file__).resolve().parents[3]
HOSTS = {"CRAVIK_ALLOWED_HOSTS": "pay.kites.example"}


class EnvironmentTest(TestCase):
    def test_what_is_right_is_read(self) -> None:
        said = {"A": " Yes ", "B": "OFF", "N": "12", "L": "a, ,b", "W": "https://pay.kites.example:8443/"}
        env = Environment(said)
        self.assertEqual((env.yes_or_no("A"), env.yes_or_no("B"), env.yes_or_no("C")), (True, False, False))
        self.assertEqual((env.whole("N", 3, 1, 20), env.whole("M", 3, 1, 20)), (12, 3))
        self.assertEqual((env.several("L", []), env.several("K", ["x"])), (["a", "b"], ["x"]))
        self.assertEqual(env.web_address("W"), "https://pay.kites.example:8443")
        env.refuse_wrong()

    def test_everything_that_is_wrong_is_told_at_once(self) -> None:
        env = Environment({"A": "maybe", "N": "0", "W": "pay.kites.example", "M": "x" * 500})
        self.assertEqual((env.yes_or_no("A"), env.whole("N", 3, 1, 20), env.web_address("W")), (False, 3, ""))
        env.whole("M", 3, 1, 20)
        with self.assertRaises(WrongSettings) as refused:
            env.refuse_wrong()
        self.assertEqual(refused.exception.sentences[0], "A='maybe' is neither yes nor no. Write 1 or 0.")
        self.assertEqual(len(refused.exception.sentences), 4)
        self.assertLess(len(refused.exception.sentences[3]), 200)


class StartingTest(TestCase):
    def start(self, command: str = "check", **settings: str) -> tuple[int, str]:
        with tempfile.TemporaryDirectory() as folder:
            inherited = {name: value for name, value in os.environ.items() if name != "DJANGO_SETTINGS_MODULE"}
            done = subprocess.run(
                [sys.executable, "manage.py", command],
                cwd=PROJECT,
                env=inherited | {"CRAVIK_DATA_DIR": folder} | settings,
                capture_output=True,
                text=True,
                check=False,
            )
            if done.returncode:
                self.assertEqual(list(Path(folder).iterdir()), [], "nothing is made of what does not start")
        return done.returncode, done.stderr

    def test_each_setting_wrong_ends_with_status_2_and_a_sentence(self) -> None:
        wrong = {
            "CRAVIK_PUBLIC_ADDRESS": ("pay.kites.example", "https://", "https://elsewhere.example"),
            **dict.fromkeys(("CRAVIK_HTTPS", "CRAVIK_DEBUG", "CRAVIK_OPEN_SIGN_UP"), ("maybe", "2", "ja")),
            **dict.fromkeys(("CRAVIK_LOG_JSON", "CRAVIK_HSTS_SUBDOMAINS", "CRAVIK_HSTS_PRELOAD"), ("?", "1", "-1")[:1]),
            "PORT": ("eighty", "0", "65536"),
            "WEB_WORKERS": ("0", "-2", "2.5"),
            "CRAVIK_TRUSTED_PROXIES": ("-1", "yes", "99"),
            **dict.fromkeys(
                ("CRAVIK_BACKUPS_KEPT", "CRAVIK_BACKUPS_KEPT_WEEKS", "CRAVIK_BACKUPS_KEPT_MONTHS"), ("-1", "all", "1e3")
            ),
            "CRAVIK_ACCESS_LOG": ("maybe", "2", "ja"),
            "CRAVIK_BACKUP_KEY_FILE": ("/nowhere/key.txt", "README.md", "."),
            "CRAVIK_UNDECIDED_PER_NETWORK": ("0", "six", "-6"),
            "CRAVIK_HSTS_DAYS": ("a year", "-1", "99999"),
        }
        for place in range(3):  # one of each at a time, since a start takes a while and tells them all
            settings = {name: values[place] for name, values in wrong.items() if place < len(values)}
            status, said = self.start("serve", **HOSTS, **settings)
            self.assertEqual(status, 2, said)
            for name, value in settings.items():
                with self.subTest(name, value=value):
                    self.assertIn(f"{name}='{value}' ", said)
            self.assertNotIn("Traceback", said)
        status, said = self.start(CRAVIK_BACKUP_PASS_PHRASE="too short", CRAVIK_HEALTH_TOKEN="short", **HOSTS)
        self.assertEqual(status, 2)
        self.assertIn("CRAVIK_BACKUP_PASS_PHRASE has fewer than 12 characters", said)
        self.assertIn("CRAVIK_HEALTH_TOKEN has fewer than 16 characters", said)
        self.assertNotIn("too short", said)
        status, said = self.start(CRAVIK_HSTS_PRELOAD="1")
        self.assertEqual((status, said.count("\n")), (2, 2), said)

    def test_a_command_on_a_folder_without_a_cravik_leaves_it_as_it_is(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            for command in (["backup"], ["results"], ["reset-password", "a@b.example"], ["link", "export", "x"]):
                done = subprocess.run(
                    [sys.executable, "manage.py", *command],
                    cwd=PROJECT,
                    env={**os.environ, "CRAVIK_DATA_DIR": folder, "DJANGO_SETTINGS_MODULE": "cravik.config.settings"},
                    capture_output=True,
                    text=True,
                    check=False,
                )
                self.assertEqual((done.returncode, list(Path(folder).iterdir())), (2, []), done.stderr)
                self.assertIn("holds no Cravik: nothing was done.", done.stderr)

    def test_the_version_is_its_own(self) -> None:
        for asked in ("version", "--version"):
            told = subprocess.check_output([sys.executable, "manage.py", asked], cwd=PROJECT, text=True)
            self.assertEqual(told, f"{VERSION}\n")

    def test_a_right_one_starts(self) -> None:
        self.assertEqual(self.start()[0], 0)
        self.assertEqual(self.start(CRAVIK_PUBLIC_ADDRESS="https://pay.kites.example", **HOSTS)[0], 0)
