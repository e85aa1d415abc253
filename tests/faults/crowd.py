"""Buyers who pay at once, and go on however often the server is killed meanwhile."""

from __future__ import annotations

import contextlib
import http.client
import random
import threading
import time
from itertools import count

from tests.running import RunningApplication

APPROVES, APPROVES_TOO, NO_FUNDS = "9000000000000019", "9000000000000118", "9000000000001017"


class Crowd:
    """``paid`` has the e-mail address of everybody who was told that they had paid, and when."""

    def __init__(self, application: RunningApplication, paths: list[str], senders: int, payments: int) -> None:
        self.paid: dict[str, float] = {}
        self._application = application
        self._paths = paths
        self._payments = payments
        self._numbers = count(1)
        self._lock = threading.Lock()
        self._threads = [threading.Thread(target=self._pay, args=(seed,)) for seed in range(senders)]

    def start(self) -> None:
        for thread in self._threads:
            thread.start()

    def stop(self) -> None:
        """Let nobody begin any more, and wait for those who are paying."""
        self._payments = 0
        self.wait()

    def wait(self) -> None:
        for thread in self._threads:
            thread.join()

    @property
    def is_paying(self) -> bool:
        return any(thread.is_alive() for thread in self._threads)

    def paid_before(self, instant: float) -> set[str]:
        """Who had been told so by then."""
        with self._lock:
            return {email for email, at in self.paid.items() if at < instant}

    def _pay(self, seed: int) -> None:
        chance = random.Random(seed)
        while (number := next(self._numbers)) <= self._payments:
            path, email = chance.choice(self._paths), f"b{number}@killed.example"
            for _ in range(60):
                with contextlib.suppress(OSError, http.client.HTTPException, AssertionError):
                    self._press(path, email, chance.choice([APPROVES, APPROVES, APPROVES_TOO, NO_FUNDS]))
                    break
                time.sleep(0.25)  # nobody is there just now

    def _press(self, path: str, email: str, card: str) -> None:
        form = self._application.filled_in_form(path, card, email)
        if path.startswith("/for/codes"):
            form |= {"code": "WIND", "seen_total": "12.00", "seen_now": "12.00"}
        status, leads_to = self._application.post(f"{path}pay/", form)
        if status == 503:
            raise ConnectionError("one moment")
        if status == 303 and leads_to.startswith("/paid/"):  # not back to the page, as after a decline
            with self._lock:
                self.paid[email] = time.time()
