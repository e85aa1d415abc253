from __future__ import annotations

from typing import Any

from django.core.exceptions import ValidationError
from django.core.management.base import CommandError, CommandParser
from django.core.validators import validate_email
from django.db import transaction

from cravik.people.commands import business_called
from cravik.people.models import Membership, User
from cravik.people.services import way_back_address
from cravik.upkeep.commands import DataCommand


class Command(DataCommand):
    help = "Let another person act for a business, and print the address at which they choose their password."

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("email", help="the address that they will sign in with")
        parser.add_argument("--business", default="", help="its name; not needed where there is only one")
        parser.add_argument(
            "--looks-after-it", action="store_true", help="they see to the installation too: its health, its back-ups"
        )
        parser.add_argument("--name", default="", help="their own name")

    def handle(self, *args: Any, **options: Any) -> None:
        email = options["email"].strip().lower()
        try:
            validate_email(email)
        except ValidationError:
            raise CommandError(f"{options['email']} is not an e-mail address.", returncode=2) from None
        if User.objects.filter(email=email).exists():
            raise CommandError(f"{email} has an account already. reset-password prints a way in.", returncode=2)
        with transaction.atomic():
            user = User(email=email, name=options["name"].strip()[:120], is_superuser=options["looks_after_it"])
            user.set_unusable_password()
            user.save()
            Membership.objects.create(user=user, business=business_called(options["business"]))
        self.stdout.write(way_back_address(user))
