"""Django's SQLite backend with a queue for writers.

SQLite lets a writer that finds the database locked sleep and try again, ever longer (up to 100 ms
a time, https://sqlite.org/c3ref/busy_timeout.html), so that under load some wait very long. Here a
writer first stands in line (``line``), no longer than the database's own timeout, and only then begins.
Whoever does not know of the line is still held off by SQLite itself. The kernel frees the lock of a process that dies.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from django.db.backends.sqlite3 import base

from cravik.upkeep.queued_sqlite.line import stand_in_line
from cravik.upkeep.queued_sqlite.patience import seconds_to_wait


class DatabaseWrapper(base.DatabaseWrapper):
    _leave: Callable[[], None] | None = None

    def _start_transaction_under_autocommit(self) -> None:
        self._stand_in_line()
        wait = seconds_to_wait(self._timeout)
        try:
            if wait < self._timeout:  # for whoever holds the database without standing in line
                self._wait_for_lock(wait)
            super()._start_transaction_under_autocommit()  # type: ignore[misc]  # not in Django's stubs
        except BaseException:
            self._leave_line()
            raise
        finally:
            if wait < self._timeout:
                self._wait_for_lock(self._timeout)

    @property
    def _timeout(self) -> float:
        """Seconds, as the settings have them."""
        return float(self.settings_dict["OPTIONS"].get("timeout", 5))

    def _wait_for_lock(self, seconds: float) -> None:
        self.connection.execute(f"PRAGMA busy_timeout={int(seconds * 1000)}")

    def _commit(self) -> Any:
        # A commit that fails leaves the transaction open; the rollback that follows leaves the line.
        done = super()._commit()  # type: ignore[misc]  # not in Django's stubs
        self._leave_line()
        return done

    def _rollback(self) -> Any:
        try:
            return super()._rollback()  # type: ignore[misc]  # not in Django's stubs
        finally:
            self._leave_line()

    def _close(self) -> Any:
        try:
            return super()._close()  # type: ignore[misc]  # not in Django's stubs
        finally:
            self._leave_line()

    def _stand_in_line(self) -> None:
        if not self.is_in_memory_db() and self._leave is None:
            self._leave = stand_in_line(str(self.settings_dict["NAME"]), seconds_to_wait(self._timeout))

    def _leave_line(self) -> None:
        leave, self._leave = self._leave, None
        if leave is not None:
            leave()
