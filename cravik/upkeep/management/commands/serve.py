"""The one command that runs everything; see ``cravik.upkeep.supervisor``."""

from __future__ import annotations

import errno
import gc
import os
import shutil
import socket
from functools import partial
from getpass import getuser
from importlib import import_module
from io import StringIO
from pathlib import Path
from typing import IO, Any

import structlog
from django.conf import settings
from django.core.management import call_command
from django.core.management.base import BaseCommand, CommandError, CommandParser, OutputWrapper
from django.db import DatabaseError, OperationalError, connection
from django.db.migrations.executor import MigrationExecutor
from django.db.migrations.loader import MigrationLoader
from django.utils import timezone
from django.utils.module_loading import import_string

from cravik import VERSION
from cravik.core.documents.parts import build
from cravik.core.english import counted
from cravik.later import load_later
from cravik.upkeep.alone import AlreadyRunning, hold_folder, keep_to_owner
from cravik.upkeep.archive.restoring import finish_exchange
from cravik.upkeep.archive.taking import BackupFailed, take_before_upgrade
from cravik.upkeep.archive.wanted import forget_wanted, is_wanted, restore_wanted
from cravik.upkeep.fresh import make_fresh
from cravik.upkeep.make import OfAnotherMake, refuse_another_make, write_version
from cravik.upkeep.starting import announced_at_start
from cravik.upkeep.starting_anew import HandedOn, hand_on, start_anew, taken_over
from cravik.upkeep.static_files import collect_if_changed
from cravik.upkeep.supervisor import ChildFailed, Supervisor, WatchedProcess, do_in_child, listening_socket
from cravik.upkeep.web import serve

logger = structlog.stdlib.get_logger("cravik.serve")
LEAST_FREE = 50_000_000
MEANWHILE = "cravik.upkeep.meanwhile.application"
_EVERYWHERE = ("0.0.0.0", "::", "")  # noqa: S104  # named to be refused


class Command(BaseCommand):
    help = "Prepare the database, reconcile what was cut off, then run the web server and its worker until stopped."

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("--host", default=settings.CRAVIK_HOST)
        parser.add_argument("--port", type=int, default=settings.CRAVIK_PORT)
        parser.add_argument("--web-workers", type=int, default=settings.CRAVIK_WEB_WORKERS)
        parser.add_argument("--demo", action="store_true", help="load the sample business if the database is empty")
        parser.add_argument("--outside-port", type=int, help="with --demo, of the sample of others' pages; one above")

    def handle(self, *args: Any, **options: Any) -> None:
        before = taken_over()
        try:
            held = before.held if before else hold_folder(settings.DATA_DIR)
            keep_to_owner(settings.DATA_DIR, settings.CRAVIK_BACKUPS)
        except AlreadyRunning as other:
            raise CommandError(str(other), returncode=2) from other
        except OSError as trouble:
            raise CommandError(not_ours(settings.DATA_DIR, trouble), returncode=2) from trouble
        with held:
            if finish_exchange(settings.DATA_DIR):  # a restore was cut off; the key that was read may be the former one
                start_anew()
            raise SystemExit(self._serve(held, before, options))

    def _carry_data_over(self) -> None:
        """Make the tables of a new database, or run the migrations that one has not had; where it has had all, looking
        is all that is done."""
        connection.ensure_connection()
        make_fresh(connection.connection)
        executor = MigrationExecutor(connection)
        if plan := executor.migration_plan(executor.loader.graph.leaf_nodes()):
            if executor.loader.applied_migrations:
                try:
                    kept = take_before_upgrade(timezone.now())
                except (BackupFailed, DatabaseError, OSError) as trouble:
                    raise CommandError(
                        f"No back-up could be taken before the upgrade ({trouble}), so nothing was changed.",
                        returncode=2,
                    ) from trouble
                self._say(f"  What it was before this version lies in {kept}", "backed up", file=str(kept))
            self._say(
                f"  Preparing the database, {counted(len(plan), 'step', 'steps')} …",
                "carrying data over",
                steps=len(plan),
            )
            call_command("migrate", interactive=False, verbosity=0)
        write_version(settings.DATA_DIR)

    def _listen_outside(self, host: str, options: dict[str, Any]) -> socket.socket | None:
        """The socket of the sample of others' pages; none, and said so, where its port is taken."""
        port = options["outside_port"] or options["port"] + 1
        try:
            listening = listening_socket(host, port)
        except OSError as trouble:
            self._say(f"  No sample of others' pages: {host}:{port} cannot be used ({trouble.strerror}).")
            return None
        settings.CRAVIK_OUTSIDE_ADDRESS = address_at(host, port)
        os.environ["CRAVIK_OUTSIDE_ADDRESS"] = settings.CRAVIK_OUTSIDE_ADDRESS  # for the children
        return listening

    def _serve(self, held: IO[str], before: HandedOn | None, options: dict[str, Any]) -> int:
        host, port = options["host"], options["port"]
        here = address_at(host, port)
        if not settings.CRAVIK_PUBLIC_ADDRESS:
            refuse_without_public_address(host)
            settings.CRAVIK_PUBLIC_ADDRESS = here
            os.environ["CRAVIK_PUBLIC_ADDRESS"] = settings.CRAVIK_PUBLIC_ADDRESS  # for the children
        self._say(f"  Cravik {VERSION} is starting …", "starting", version=VERSION, folder=str(settings.DATA_DIR))
        refuse_full_disk(settings.DATA_DIR)
        refuse_data_of_another_make(settings.DATABASE_FILE)
        listening = before.listening if before else listen_or_refuse(host, port)
        outside = self._listen_outside(host, options) if options["demo"] else None
        meanwhile = WatchedProcess("meanwhile", partial(serve, listening, MEANWHILE))
        if before:
            meanwhile.pid = before.meanwhile
        else:
            meanwhile.start()
        try:
            self._prepare(options)
        except (OperationalError, OSError) as trouble:
            if is_not_writable(trouble):
                raise CommandError(not_ours(settings.DATA_DIR, trouble), returncode=2) from trouble
            raise
        finally:
            meanwhile.stop()
        web = [
            WatchedProcess(f"web {number + 1}", partial(serve, listening)) for number in range(options["web_workers"])
        ]
        # At the same priority: one that waits for the processor while it holds the write lock holds up every buyer.
        worker = WatchedProcess("worker", partial(call_command, "db_worker", interval=0.5, reload=False, verbosity=0))
        others = [WatchedProcess("outside", partial(serve, outside, settings.CRAVIK_OUTSIDE_SITE))] if outside else []
        forget_wanted()
        supervisor = Supervisor([*web, worker, *others], settings.CRAVIK_TIMED_TASKS, is_wanted)
        supervisor.start()
        supervisor.wait_for_answer(host, port)
        self._say(f"\n  Cravik is open at  {here}/", "open", address=here, public=settings.CRAVIK_PUBLIC_ADDRESS)
        for line in filter(None, announced_at_start.call(settings.CRAVIK_PUBLIC_ADDRESS)):
            self._say(line, "no business yet")
        if options["demo"]:
            call_command("load_demo", say_how_to_sign_in=True, stdout=self._window())
        if outside:
            self._say(f"  A sample of other people's pages is at  {settings.CRAVIK_OUTSIDE_ADDRESS}/")
        self._say("  Ctrl+C ends everything.\n\n")
        status = supervisor.watch()
        if is_wanted() and not supervisor.is_told_to_stop:
            meanwhile.start()
            restore_wanted(timezone.now())
            if meanwhile.pid and not supervisor.is_told_to_stop:
                hand_on(held, listening, meanwhile.pid)
            meanwhile.stop()
        logger.info("stopped", version=VERSION)
        return status

    def _prepare(self, options: dict[str, Any]) -> None:
        """All that has to be done before the first request is answered."""
        self._carry_data_over()
        if not settings.DEBUG:
            collect_if_changed(lambda: self._say("  Collecting styles, scripts and fonts …", "collecting static files"))
        if options["demo"]:
            try:
                do_in_child(partial(call_command, "load_demo", once=True, stdout=self._window()))
            except ChildFailed:
                raise CommandError("The sample could not be loaded.") from None
        for path in settings.CRAVIK_AT_START:
            import_string(path).call()
        load_application()

    def _window(self) -> StringIO | OutputWrapper:
        """Where words for people go; nowhere, where every line is JSON."""
        return StringIO() if settings.CRAVIK_LOG_JSON else self.stdout

    def _say(self, words: str, event: str = "", /, **about: object) -> None:
        """To whoever sits at the window; where every line is JSON, as a line of the log, if it is worth one."""
        if not settings.CRAVIK_LOG_JSON:
            self.stdout.write(words)
            self.stdout.flush()
        elif event:
            logger.info(event, **about)


def address_at(host: str, port: int) -> str:
    """How a browser on this machine asks what listens there."""
    shown = "localhost" if host in ("127.0.0.1", *_EVERYWHERE) else f"[{host}]" if ":" in host else host
    return f"http://{shown}:{port}"


def refuse_without_public_address(host: str) -> None:
    """What listens everywhere has no address of its own that buyers could be given."""
    if host in _EVERYWHERE:
        raise CommandError(
            f"HOST={host} listens everywhere, so nobody knows by which address buyers come. Say it, as in"
            " CRAVIK_PUBLIC_ADDRESS=https://pay.your-name.example (and CRAVIK_ALLOWED_HOSTS).",
            returncode=2,
        )


def not_ours(folder: Path, trouble: Exception) -> str:
    """That the folder cannot be written, as one sentence with the remedy."""
    about = f"{trouble.strerror}: {trouble.filename}" if isinstance(trouble, OSError) else str(trouble)
    return (
        f"{folder} cannot be written by user {getuser()} ({about}). Run Cravik as the user whose folder it is, give"
        f" all of it to this one (chown -R {getuser()} {folder}), or name another folder: CRAVIK_DATA_DIR=…"
    )


def is_not_writable(trouble: Exception) -> bool:
    """Whether files of the folder are somebody else's, or its disk cannot be written at all."""
    if isinstance(trouble, OSError):
        return trouble.errno in (errno.EACCES, errno.EPERM, errno.EROFS)
    return any(words in str(trouble) for words in ("readonly database", "unable to open"))


def refuse_full_disk(folder: Path) -> None:
    """Say so at once where there is no room for a day's payments and a back-up."""
    free = shutil.disk_usage(folder).free
    if free < LEAST_FREE:
        raise CommandError(
            f"{folder} has {free / 1e6:,.0f} MB left on its disk; {LEAST_FREE / 1e6:,.0f} MB are needed to start. Make"
            " room there, or name another folder: CRAVIK_DATA_DIR=…",
            returncode=2,
        )


def load_application() -> None:
    """All that answers requests and does tasks, once, before the processes that do so are forked."""
    import_string(settings.WSGI_APPLICATION)
    import_module(settings.ROOT_URLCONF)
    load_later()
    build()
    # What was loaded stays for good: no process needs to walk it again.
    gc.collect()
    gc.freeze()


def refuse_data_of_another_make(database: Path) -> None:
    """Say so at once where another version made the data, and leave it untouched."""
    loader = MigrationLoader(None, ignore_no_migrations=True)
    try:
        refuse_another_make(database, set(loader.disk_migrations))
    except OfAnotherMake as other:
        raise CommandError(str(other), returncode=2) from other


def listen_or_refuse(host: str, port: int) -> socket.socket:
    """The listening socket. Says so at once where something else listens, instead of trying again and again."""
    try:
        return listening_socket(host, port)
    except OSError as trouble:
        raise CommandError(
            f"{host}:{port} cannot be used ({trouble.strerror}). Choose another port: PORT=8123 make demo", returncode=2
        ) from trouble
