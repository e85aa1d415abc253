from __future__ import annotations

from typing import Any

from django.core.management.base import CommandError, CommandParser

from cravik.people.models import User
from cravik.people.services import way_back_address
from cravik.upkeep.commands import DataCommand


class Command(DataCommand):
    help = "Print the address at which somebody who signs in chooses a new password. It holds for an hour, once."

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("email", help="the address that they sign in with")

    def handle(self, *args: Any, **options: Any) -> None:
        user = User.objects.filter(email=options["email"].strip().lower(), is_active=True).first()
        if user is None:
            known = ", ".join(
                User.objects.filter(is_active=True).order_by("email").values_list("email", flat=True)[:20]
            )
            raise CommandError(
                f"Nobody signs in with {options['email']}. These do: {known or 'nobody yet'}.", returncode=2
            )
        self.stdout.write(way_back_address(user))
