"""Runs the web server and the worker side by side, restarts what dies, and ends both together.

It is also the clock of timed work: it enqueues each task when it falls due, and takes tasks that a
killed worker left unfinished back into the queue.
"""

from __future__ import annotations

import os
import signal
import socket
import subprocess
import sys
import time
from collections.abc import Mapping, Sequence
from contextlib import closing, suppress
from datetime import timedelta
from http.client import HTTPConnection
from types import FrameType

import structlog
from django.conf import settings
from django.db import OperationalError, connection
from django.utils import timezone
from django.utils.module_loading import import_string
from django_tasks_db.models import DBTaskResult

from cravik.upkeep.alone import end_with_parent
from cravik.upkeep.queue import enqueue_once

logger = structlog.stdlib.get_logger("cravik.supervisor")

_STOP_PATIENCE = 10.0
_MAX_PAUSE = 30.0


def python_command(*arguments: str) -> list[str]:
    """The command line that runs this very Python with ``arguments``."""
    return [sys.executable, *arguments]


def listening_socket(host: str, port: int) -> socket.socket:
    """The socket that the web server's processes share: it stays open while one of them is started again.

    Raises ``OSError`` where something else listens there.
    """
    family = socket.AF_INET6 if ":" in host else socket.AF_INET
    return socket.create_server((host, port), family=family, backlog=1024)


def web_servers(listening: socket.socket, how_many: int) -> list[WatchedProcess]:
    """The web server as this application ships it, in so many processes."""
    descriptor = listening.fileno()
    command = python_command("-m", "cravik.upkeep.web", str(descriptor))
    return [WatchedProcess(f"web {number}", command, (descriptor,)) for number in range(1, how_many + 1)]


class WatchedProcess:
    """A child process that is started again whenever it ends, ever more slowly if it keeps failing."""

    def __init__(self, name: str, command: Sequence[str], descriptors: Sequence[int] = ()) -> None:
        self.name = name
        self.command = list(command)
        self._descriptors = descriptors
        self.process: subprocess.Popen[bytes] | None = None
        self._started = 0.0
        self._pause = 0.5
        self._not_before = 0.0

    def start(self) -> None:
        # A session of its own: Ctrl+C reaches the supervisor alone, which ends the rest in order.
        self.process = subprocess.Popen(
            self.command,
            cwd=settings.PROJECT_DIR,
            start_new_session=True,
            pass_fds=self._descriptors,
            preexec_fn=end_with_parent,  # noqa: PLW1509  # one call to the kernel, and no thread runs here
        )
        self._started = time.monotonic()

    def keep_alive(self) -> None:
        now = time.monotonic()
        if self.process is None or self.process.poll() is None:
            return
        if self._not_before == 0.0:
            lived = now - self._started
            self._pause = 0.5 if lived > 30 else min(self._pause * 2, _MAX_PAUSE)
            self._not_before = now + self._pause
            logger.warning("a process ended; starting it again", process=self.name, status=self.process.returncode)
        if now >= self._not_before:
            self._not_before = 0.0
            self.start()

    def stop(self) -> None:
        process = self.process
        if process is None:
            return
        if process.poll() is None:
            process.terminate()
            try:
                process.wait(_STOP_PATIENCE)
            except subprocess.TimeoutExpired:
                os.killpg(process.pid, signal.SIGKILL)
                process.wait()


class Supervisor:
    """Starts ``processes``, enqueues ``timed_tasks`` (dotted path → seconds), until told to stop."""

    def __init__(self, processes: Sequence[WatchedProcess], timed_tasks: Mapping[str, int]) -> None:
        self.processes = processes
        self._due = {
            path: time.monotonic() + (seconds if seconds <= 3600 else 60) for path, seconds in timed_tasks.items()
        }
        self._every = timed_tasks
        self._stopping = False

    def start(self) -> None:
        for name in (signal.SIGINT, signal.SIGTERM, signal.SIGHUP):
            signal.signal(name, self._stop_soon)
        take_back_unfinished_tasks(timedelta(0))
        for process in self.processes:
            process.start()

    def wait_for_answer(self, host: str, port: int, patience: float = 30.0) -> None:
        """Return when the web server answers there, or when ``patience`` seconds have passed."""
        deadline = time.monotonic() + patience
        while not self._stopping and time.monotonic() < deadline:
            with suppress(OSError), closing(HTTPConnection(host, port, timeout=patience)) as asking:
                asking.request("HEAD", "/healthy/")
                asking.getresponse()
                return
            time.sleep(0.05)

    def watch(self) -> int:
        """Keep everything running until a signal asks to stop; returns the exit status."""
        try:
            while not self._stopping:
                for process in self.processes:
                    process.keep_alive()
                try:
                    self._enqueue_what_is_due()
                except OperationalError:
                    logger.warning("the database is busy; timed work waits a moment")
                time.sleep(0.25)
        finally:
            for process in self.processes:
                process.stop()
        return 0

    def _enqueue_what_is_due(self) -> None:
        now = time.monotonic()
        for path, due in self._due.items():
            if now >= due:
                take_back_unfinished_tasks(timedelta(minutes=10))
                enqueue_once(import_string(path))
                connection.close()
                self._due[path] = now + self._every[path]

    def _stop_soon(self, signal_number: int, frame: FrameType | None) -> None:
        self._stopping = True


def take_back_unfinished_tasks(older_than: timedelta) -> int:
    """Put tasks that began before ``older_than`` ago and never ended back into the queue.

    A worker that was killed cannot say so; every task is therefore safe to run twice.
    """
    return (
        DBTaskResult.objects.running()
        .filter(started_at__lte=timezone.now() - older_than)
        .update(status="READY", started_at=None, worker_ids=[])
    )
