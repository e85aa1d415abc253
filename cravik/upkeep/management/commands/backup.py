from typing import Any

from django.utils import timezone

from cravik.upkeep.backup import back_up_database
from cravik.upkeep.commands import DataCommand


class Command(DataCommand):
    help = "Take a back-up of the database while the application goes on, and print where it is."

    def handle(self, *args: Any, **options: Any) -> None:
        self.stdout.write(str(back_up_database(timezone.now())))
