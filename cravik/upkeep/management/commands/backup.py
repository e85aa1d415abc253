from typing import Any

from django.core.management.base import BaseCommand
from django.utils import timezone

from cravik.upkeep.backup import back_up_database


class Command(BaseCommand):
    help = "Take a back-up of the database while the application goes on, and print where it is."

    def handle(self, *args: Any, **options: Any) -> None:
        self.stdout.write(str(back_up_database(timezone.now())))
