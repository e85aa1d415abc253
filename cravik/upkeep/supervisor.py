"""Runs the web server and the worker side by side, restarts what dies, and ends both together.

It is also the clock of timed work: it enqueues each task when it falls due, and takes tasks that a
killed worker left unfinished back into the queue.
"""

from __future__ import annotations

import os
import signal
import socket
import sys
import time
from collections.abc import Callable, Mapping, Sequence
from contextlib import closing, suppress
from datetime import timedelta
from http.client import HTTPConnection
from types import FrameType
from typing import NoReturn

import structlog
from django.db import OperationalError, connection, connections
from django.utils import timezone
from django.utils.module_loading import import_string
from django_tasks_db.models import DBTaskResult

from cravik.upkeep.alone import end_with_parent
from cravik.upkeep.queue import enqueue_once

logger = structlog.stdlib.get_logger("cravik.supervisor")

_STOP_PATIENCE = 10.0
_MAX_PAUSE = 30.0
#: Seconds after the start at which each timed task is due for the first time, at the latest.
_FIRST_WITHIN = 60
_STOP_SIGNALS = (signal.SIGINT, signal.SIGTERM, signal.SIGHUP)


def listening_socket(host: str, port: int) -> socket.socket:
    """The socket that the web server's processes share: it stays open while one of them is started again.

    Raises ``OSError`` where something else listens there.
    """
    family = socket.AF_INET6 if ":" in host else socket.AF_INET
    return socket.create_server((host, port), family=family, backlog=1024)


class WatchedProcess:
    """A child that does ``work`` until told to stop, and is started again whenever it ends, ever more slowly if it
    keeps failing.

    It is a fork of the supervisor, which has loaded the whole application and runs no thread, so it is ready at once.
    """

    def __init__(self, name: str, work: Callable[[], object]) -> None:
        self.name = name
        self._work = work
        self.pid: int | None = None
        self._started = 0.0
        self._pause = 0.5
        self._not_before = 0.0

    def start(self) -> None:
        connections.close_all()  # an open SQLite database must not be carried into a child
        for stream in (sys.stdout, sys.stderr):
            stream.flush()
        supervisor = os.getpid()
        pid = os.fork()
        if pid == 0:
            _be_child(supervisor, self._work)
        self.pid = pid
        self._started = time.monotonic()

    def keep_alive(self) -> None:
        now = time.monotonic()
        if self.pid is not None:
            status = self._ended()
            if status is None:
                return
            self.pid = None
            lived = now - self._started
            self._pause = 0.5 if lived > 30 else min(self._pause * 2, _MAX_PAUSE)
            self._not_before = now + self._pause
            logger.warning("a process ended; starting it again", process=self.name, status=status)
        if now >= self._not_before:
            self.start()

    def stop(self) -> None:
        if self.pid is None:
            return
        with suppress(ProcessLookupError):
            os.kill(self.pid, signal.SIGTERM)
        deadline = time.monotonic() + _STOP_PATIENCE
        while self._ended() is None:
            if time.monotonic() > deadline:
                os.killpg(self.pid, signal.SIGKILL)
                os.waitpid(self.pid, 0)
                break
            time.sleep(0.02)
        self.pid = None

    def _ended(self) -> int | None:
        """The exit status, negative for a signal, or None while it runs."""
        assert self.pid is not None
        found, status = os.waitpid(self.pid, os.WNOHANG)
        return os.waitstatus_to_exitcode(status) if found else None


class ChildFailed(Exception):
    """A process that was waited for did not do its work; it has said why."""


def do_in_child(work: Callable[[], object]) -> None:
    """Do the work in a fork, and wait for it. Raises ``ChildFailed``.

    Threads of libraries that it begins, such as the typesetter's, end with it: a fork of a process that has some waits
    for them for ever, since no thread is carried over.
    """
    child = WatchedProcess("once", work)
    child.start()
    assert child.pid is not None
    _, status = os.waitpid(child.pid, 0)
    if os.waitstatus_to_exitcode(status) != 0:
        raise ChildFailed


def _be_child(supervisor: int, work: Callable[[], object]) -> NoReturn:
    """Do the work in the process just forked, and end it."""
    status = 1
    try:
        os.setsid()  # Ctrl+C reaches the supervisor alone, which ends the rest in order
        for name in _STOP_SIGNALS:
            signal.signal(name, signal.SIG_DFL)
        end_with_parent(supervisor)
        work()
        status = 0
    except SystemExit as ending:
        status = ending.code if isinstance(ending.code, int) else 0
    except BaseException:
        logger.exception("a process failed")
    finally:
        for stream in (sys.stdout, sys.stderr):
            with suppress(OSError):
                stream.flush()
        os._exit(status)


class Supervisor:
    """Starts ``processes``, enqueues ``timed_tasks`` (dotted path → seconds), until told to stop, or until something is
    wanted that only can be done while they stand still."""

    def __init__(
        self,
        processes: Sequence[WatchedProcess],
        timed_tasks: Mapping[str, int],
        is_wanted: Callable[[], bool] = lambda: False,
    ) -> None:
        self.processes = processes
        self._due = {path: time.monotonic() + min(seconds, _FIRST_WITHIN) for path, seconds in timed_tasks.items()}
        self._every = timed_tasks
        self._is_wanted = is_wanted
        self.is_told_to_stop = False

    def start(self) -> None:
        for name in _STOP_SIGNALS:
            signal.signal(name, self._stop_soon)
        take_back_unfinished_tasks(timedelta(0))
        for process in self.processes:
            process.start()

    def wait_for_answer(self, host: str, port: int, patience: float = 30.0) -> None:
        """Return when the web server answers there, or when ``patience`` seconds have passed."""
        deadline = time.monotonic() + patience
        while not self.is_told_to_stop and time.monotonic() < deadline:
            with suppress(OSError), closing(HTTPConnection(host, port, timeout=patience)) as asking:
                asking.request("HEAD", "/healthy/")
                asking.getresponse()
                return
            time.sleep(0.05)

    def watch(self) -> int:
        """Keep everything running until a signal asks to stop, or something is wanted; returns the exit status."""
        try:
            while not self.is_told_to_stop and not self._is_wanted():
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
        self.is_told_to_stop = True


def take_back_unfinished_tasks(older_than: timedelta) -> int:
    """Put tasks that began before ``older_than`` ago and never ended back into the queue.

    A worker that was killed cannot say so; every task is therefore safe to run twice.
    """
    return (
        DBTaskResult.objects.running()
        .filter(started_at__lte=timezone.now() - older_than)
        .update(status="READY", started_at=None, worker_ids=[])
    )
