"""The web server process: waitress on a listening socket that it is given.

Requests are received and answers sent by one loop, whatever the pace of the client; the threads that carry Django see
a request when all of it is there, and are free again when its answer is made. A file to download is sent by the loop
alone. Several such processes share one listening socket.
"""

from __future__ import annotations

import signal
import socket
from collections.abc import Callable
from types import FrameType
from typing import Any

import structlog
from django.conf import settings
from django.utils.module_loading import import_string
from waitress.adjustments import Adjustments
from waitress.channel import HTTPChannel
from waitress.server import TcpWSGIServer
from waitress.task import ThreadedTaskDispatcher

logger = structlog.stdlib.get_logger("cravik.web")

THREADS = 4
#: Open sockets a process; beyond, new ones wait in the kernel's queue.
MAX_SOCKETS = 1000
#: Seconds within which the head of a request arrives, and all of it: uploads of 100 MB on a slow line are let in.
HEAD_WITHIN, ALL_WITHIN = 20.0, 600.0
#: Seconds after which a socket that neither sends nor takes anything is closed.
IDLE_FOR = 60
#: More than any form or file that is taken, which tell their own bounds better.
_MAX_REQUEST_BYTES = 256 * 1024 * 1024


class DeadlineServer(TcpWSGIServer):  # type: ignore[misc]  # waitress has no types
    """Closes the socket of a request that is not there in time, however steadily it drips."""

    def maintenance(self, now: float) -> None:
        super().maintenance(now)
        for channel in list(self.active_channels.values()):
            if is_late(channel, now):
                logger.warning("a request was not there in time; its socket is closed")
                channel.will_close = True


def is_late(channel: HTTPChannel, now: float) -> bool:
    """Whether the request that a channel is receiving has been under way for too long; ``now`` in seconds."""
    request = channel.request
    if request is None:
        return False
    # The loop looks every few seconds; what it sees first counts as the beginning.
    began: float = vars(request).setdefault("seen_at", now)
    return now - began > (ALL_WITHIN if request.headers_finished else HEAD_WITHIN)


def make_server(application: Callable[..., Any], listening: socket.socket, proxies: int) -> DeadlineServer:
    """A server that answers on the socket. ``proxies`` of our own stand before it, and what they say of the client is
    believed; with none, nobody is."""
    believed: dict[str, Any] = {"clear_untrusted_proxy_headers": False}
    if proxies:
        believed = {
            "trusted_proxy": "*",
            "trusted_proxy_count": proxies,
            "trusted_proxy_headers": {"x-forwarded-for", "x-forwarded-proto"},
            "clear_untrusted_proxy_headers": True,
        }
    adjustments = Adjustments(
        sockets=[listening],
        threads=THREADS,
        ident=None,
        connection_limit=MAX_SOCKETS,
        asyncore_use_poll=True,
        channel_timeout=IDLE_FOR,
        cleanup_interval=5,
        max_request_body_size=_MAX_REQUEST_BYTES,
        **believed,
    )
    threads = ThreadedTaskDispatcher()
    threads.set_thread_count(adjustments.threads)
    return DeadlineServer(
        application,
        {},
        True,
        listening,
        dispatcher=threads,
        adj=adjustments,
        bind_socket=False,
        sockinfo=(listening.family, listening.type, listening.proto, listening.getsockname()),
    )


def serve(listening: socket.socket, application_path: str = "") -> None:
    """Answer on the socket until a signal asks to stop: with the application, or with another that is named."""
    application = import_string(application_path or settings.WSGI_APPLICATION)
    server = make_server(application, listening, settings.CRAVIK_TRUSTED_PROXIES)
    for name in (signal.SIGINT, signal.SIGTERM):
        signal.signal(name, _stop)
    server.run()


def _stop(signal_number: int, frame: FrameType | None) -> None:
    raise SystemExit(0)
