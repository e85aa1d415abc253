"""The application as it is shipped, run in processes of its own on a data folder that is thrown away."""

from __future__ import annotations

import fcntl
import functools
import hashlib
import http.client
import os
import re
import shutil
import signal
import socket
import sqlite3
import subprocess
import sys
import tempfile
import time
import urllib.parse
from collections.abc import Callable
from contextlib import closing, suppress
from pathlib import Path
from types import TracebackType
from typing import Any, Self

from tests.page_fields import picked_in

PROJECT = Path(__file__).resolve().parent.parent
_BROWSER = "Mozilla/5.0 (X11; Linux x86_64; rv:140.0) Gecko/20100101 Firefox/140.0"


class RunningApplication:
    """``serve`` on a free port; as a context manager it is started, and ended with all it started."""

    def __init__(self, data: str | Path, *arguments: str, **environment: str) -> None:
        self.port = _free_port()
        self.data = Path(data)
        self.address = f"http://localhost:{self.port}"
        self._arguments = arguments
        # With the settings that are shipped, whichever ones the tests have.
        inherited = {name: value for name, value in os.environ.items() if name != "DJANGO_SETTINGS_MODULE"}
        self._environment = inherited | {"CRAVIK_DATA_DIR": str(data)} | environment

    @classmethod
    def on_sample(cls, clean_up: Callable[..., object], *arguments: str, **environment: str) -> Self:
        """Started on a copy of the sample business; ``clean_up`` is a test's ``addCleanup`` or ``addClassCleanup``."""
        folder = tempfile.TemporaryDirectory()
        clean_up(folder.cleanup)
        shutil.copytree(_sample(), folder.name, dirs_exist_ok=True)
        application = cls(folder.name, *arguments, **environment)
        application.start()
        clean_up(application.__exit__, None, None, None)
        return application

    def __enter__(self) -> Self:
        self.start()
        return self

    def __exit__(
        self, kind: type[BaseException] | None, error: BaseException | None, trace: TracebackType | None
    ) -> None:
        if self.process.poll() is None:
            self.stop()

    def start(self) -> None:
        """Start, and return when it answers. Raises ``TimeoutError`` after two minutes."""
        self.data.mkdir(parents=True, exist_ok=True)
        with self._complaints.open("ab") as complaints, self._window.open("ab") as window:
            self.process = subprocess.Popen(
                [sys.executable, "manage.py", "serve", "--port", str(self.port), *self._arguments],
                cwd=PROJECT,
                env=self._environment,
                stdout=window,
                stderr=complaints,
            )
        self.wait_until_healthy()

    @property
    def _complaints(self) -> Path:
        return self.data / "standard-error.log"

    @property
    def _window(self) -> Path:
        return self.data / "standard-output.log"

    def said(self) -> str:
        """All that was written to its standard output so far."""
        return self._window.read_text(errors="replace") if self._window.exists() else ""

    def complaints(self) -> str:
        """All that was written to its standard error so far."""
        return self._complaints.read_text(errors="replace") if self._complaints.exists() else ""

    def wait_until_healthy(self) -> None:
        deadline = time.monotonic() + 120
        while time.monotonic() < deadline:
            try:
                if self.get("/healthy/")[0] == 200:
                    return
            except OSError:
                pass
            time.sleep(0.1)
        raise TimeoutError("The application did not start.")

    def stop(self) -> None:
        """As Ctrl+C does."""
        self.process.send_signal(signal.SIGINT)
        self.process.wait(30)

    def children(self) -> list[int]:
        """The process ids of the web server and the worker, and of what they started."""
        found, parents = [], [self.process.pid]
        while parents:
            listed = Path(f"/proc/{parents[0]}/task/{parents[0]}/children")
            mine = [int(pid) for pid in listed.read_text().split()] if listed.exists() else []
            found += mine
            parents = parents[1:] + mine
        return found

    def kill_everything(self) -> None:
        """As a power cut does: no process gets to say anything."""
        for pid in [self.process.pid, *self.children()]:
            os.kill(pid, signal.SIGKILL)
        self.process.wait()

    def get(self, path: str) -> tuple[int, str]:
        return self._ask("GET", path)

    def post(self, path: str, form: dict[str, str]) -> tuple[int, str]:
        """Status, and the address it leads to or else the body."""
        return self._ask("POST", path, urllib.parse.urlencode(form))

    def _ask(self, method: str, path: str, body: str | None = None) -> tuple[int, str]:
        with closing(http.client.HTTPConnection("127.0.0.1", self.port, timeout=30)) as connection:
            headers = {"User-Agent": _BROWSER, "Host": f"localhost:{self.port}"}
            if body is not None:
                headers["Content-Type"] = "application/x-www-form-urlencoded"
            connection.request(method, path, body, headers)
            answer = connection.getresponse()
            return answer.status, answer.getheader("Location") or answer.read().decode()

    def filled_in_form(self, path: str, card: str, email: str = "maren@dunes.example") -> dict[str, str]:
        """The buyer's form of a page, with a fresh token."""
        page = self.get(path)[1]
        token = re.search(r'name="page" value="([^"]+)"', page)
        assert token, f"no form at {path}"
        return picked_in(page) | {
            "page": token[1],
            "name": "Maren",
            "email": email,
            "card_number": card,
            "expiry": "09/31",
            "security_code": "123",
            "agree": "yes",
        }

    def run(self, *command: str, typed: str = "") -> str:
        """What ``manage.py`` prints for the command on the same data. Raises ``CalledProcessError``."""
        done = subprocess.run(
            [sys.executable, "manage.py", *command],
            cwd=PROJECT,
            env=self._environment,
            input=typed,
            capture_output=True,
            text=True,
            check=True,
        )
        return done.stdout

    def begin(self, *command: str) -> subprocess.Popen[str]:
        """The same, without waiting for it: to be killed, or asked what it printed."""
        return subprocess.Popen(
            [sys.executable, "manage.py", *command],
            cwd=PROJECT,
            env=self._environment,
            stdout=subprocess.PIPE,
            stderr=subprocess.DEVNULL,
            text=True,
        )

    def write(self, sql: str, *parameters: Any) -> None:
        """Change the database file, as another process would."""
        with closing(sqlite3.connect(self.data / "cravik.sqlite3", timeout=30)) as database, database:
            database.execute(sql, parameters)

    def query(self, sql: str, *parameters: Any) -> list[tuple[Any, ...]]:
        """Rows straight from the database file."""
        with closing(sqlite3.connect(self.data / "cravik.sqlite3", timeout=10)) as database:
            return database.execute(sql, parameters).fetchall()


def _free_port() -> int:
    """One whose neighbour above is free too: the sample of others' pages is there."""
    while True:
        with socket.socket() as probe, socket.socket() as above, suppress(OSError):
            probe.bind(("127.0.0.1", 0))
            port: int = probe.getsockname()[1]
            above.bind(("127.0.0.1", port + 1))
            return port


@functools.cache
def _sample() -> Path:
    """A data folder with the sample, made once for this state of the code; several test processes share it."""
    kept = PROJECT / "var" / "sample-for-tests"
    kept.mkdir(parents=True, exist_ok=True)
    with (kept / "lock").open("w") as lock:
        fcntl.flock(lock, fcntl.LOCK_EX)
        stamp = kept / "made-of"
        present = _fingerprint()
        if not stamp.exists() or stamp.read_text() != present:
            stamp.unlink(missing_ok=True)
            shutil.rmtree(kept / "data", ignore_errors=True)
            with RunningApplication(kept / "data", "--demo") as application:
                pass
            application._complaints.unlink()
            application._window.unlink()
            stamp.write_text(present)
    return kept / "data"


def _fingerprint() -> str:
    digest = hashlib.sha256()
    for path in sorted(path for path in (PROJECT / "cravik").rglob("*") if path.is_file() and path.suffix != ".pyc"):
        digest.update(f"{path}\0".encode() + path.read_bytes())
    return digest.hexdigest()
