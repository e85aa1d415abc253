from typing import Any

from django.core.management.base import BaseCommand

from cravik import VERSION


class Command(BaseCommand):
    help = "Print the version of this program."
    requires_system_checks: list[str] = []

    def handle(self, *args: Any, **options: Any) -> None:
        self.stdout.write(VERSION)
