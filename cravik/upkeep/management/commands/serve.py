"""The one command that runs everything; see ``cravik.upkeep.supervisor``."""

from __future__ import annotations

import os
import socket
from functools import partial
from importlib import import_module
from pathlib import Path
from typing import Any

from django.conf import settings
from django.core.management import call_command
from django.core.management.base import BaseCommand, CommandError, CommandParser
from django.db import connection
from django.db.migrations.executor import MigrationExecutor
from django.db.migrations.loader import MigrationLoader
from django.utils.module_loading import import_string

from cravik.upkeep.alone import AlreadyRunning, hold_folder, keep_to_owner
from cravik.upkeep.make import OfAnotherMake, refuse_another_make
from cravik.upkeep.static_files import collect_if_changed
from cravik.upkeep.supervisor import Supervisor, WatchedProcess, listening_socket
from cravik.upkeep.web import serve


class Command(BaseCommand):
    help = "Prepare the database, reconcile what was cut off, then run the web server and its worker until stopped."

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("--host", default=os.environ.get("HOST", "127.0.0.1"))
        parser.add_argument("--port", type=int, default=int(os.environ.get("PORT", "8000")))
        parser.add_argument("--web-workers", type=int, default=int(os.environ.get("WEB_WORKERS", "2")))
        parser.add_argument("--demo", action="store_true", help="load the sample business if the database is empty")
        parser.add_argument("--outside-port", type=int, help="with --demo, of the sample of others' pages; one above")

    def handle(self, *args: Any, **options: Any) -> None:
        host, port = options["host"], options["port"]
        try:
            held = hold_folder(settings.DATA_DIR)
        except AlreadyRunning as other:
            raise CommandError(str(other)) from other
        with held:
            keep_to_owner(settings.DATA_DIR)
            raise SystemExit(self._serve(host, port, options))

    def _carry_data_over(self) -> None:
        """Run the migrations that the database has not had; where it has had all, looking is all that is done."""
        executor = MigrationExecutor(connection)
        if plan := executor.migration_plan(executor.loader.graph.leaf_nodes()):
            self.stdout.write(f"  Preparing the database, {len(plan)} steps …")
            self.stdout.flush()
            call_command("migrate", interactive=False, verbosity=0)

    def _listen_outside(self, host: str, options: dict[str, Any]) -> socket.socket | None:
        """The socket of the sample of others' pages; none, and said so, where its port is taken."""
        port = options["outside_port"] or options["port"] + 1
        try:
            listening = listening_socket(host, port)
        except OSError as trouble:
            self.stdout.write(f"  No sample of others' pages: {host}:{port} cannot be used ({trouble.strerror}).")
            return None
        shown_host = "localhost" if host == "127.0.0.1" else host
        settings.CRAVIK_OUTSIDE_ADDRESS = f"http://{shown_host}:{port}"
        os.environ["CRAVIK_OUTSIDE_ADDRESS"] = settings.CRAVIK_OUTSIDE_ADDRESS  # for the children
        return listening

    def _serve(self, host: str, port: int, options: dict[str, Any]) -> int:
        shown_host = "localhost" if host == "127.0.0.1" else host
        if not settings.CRAVIK_PUBLIC_ADDRESS:
            settings.CRAVIK_PUBLIC_ADDRESS = f"http://{shown_host}:{port}"
            os.environ["CRAVIK_PUBLIC_ADDRESS"] = settings.CRAVIK_PUBLIC_ADDRESS  # for the children
        self.stdout.write("  Cravik is starting …")
        refuse_data_of_another_make(settings.DATABASE_FILE)
        listening = listen_or_refuse(host, port)
        outside = self._listen_outside(host, options) if options["demo"] else None
        self._carry_data_over()
        if not settings.DEBUG:
            collect_if_changed(lambda: self.stdout.write("  Collecting styles, scripts and fonts …"))
        if options["demo"]:
            call_command("load_demo", once=True, stdout=self.stdout)
        for path in settings.CRAVIK_AT_START:
            import_string(path).call()
        load_application()
        web = [
            WatchedProcess(f"web {number + 1}", partial(serve, listening)) for number in range(options["web_workers"])
        ]
        # At the same priority: one that waits for the processor while it holds the write lock holds up every buyer.
        worker = WatchedProcess("worker", partial(call_command, "db_worker", interval=0.5, reload=False, verbosity=0))
        others = [WatchedProcess("outside", partial(serve, outside, settings.CRAVIK_OUTSIDE_SITE))] if outside else []
        supervisor = Supervisor([*web, worker, *others], settings.CRAVIK_TIMED_TASKS)
        supervisor.start()
        supervisor.wait_for_answer(host, port)
        self.stdout.write(f"\n  Cravik is open at  http://{shown_host}:{port}/")
        if options["demo"]:
            call_command("load_demo", say_how_to_sign_in=True, stdout=self.stdout)
        if outside:
            self.stdout.write(f"  A sample of other people's pages is at  {settings.CRAVIK_OUTSIDE_ADDRESS}/")
        self.stdout.write("  Ctrl+C ends everything.\n\n")
        self.stdout.flush()
        return supervisor.watch()


def load_application() -> None:
    """All that answers requests and does tasks, once, before the processes that do so are forked."""
    import_string(settings.WSGI_APPLICATION)
    import_module(settings.ROOT_URLCONF)


def refuse_data_of_another_make(database: Path) -> None:
    """Say so at once where another version made the data, and leave it untouched."""
    loader = MigrationLoader(None, ignore_no_migrations=True)
    try:
        refuse_another_make(database, set(loader.disk_migrations))
    except OfAnotherMake as other:
        raise CommandError(str(other)) from other


def listen_or_refuse(host: str, port: int) -> socket.socket:
    """The listening socket. Says so at once where something else listens, instead of trying again and again."""
    try:
        return listening_socket(host, port)
    except OSError as trouble:
        raise CommandError(
            f"{host}:{port} cannot be used ({trouble.strerror}). Choose another port: PORT=8123 make demo"
        ) from trouble
