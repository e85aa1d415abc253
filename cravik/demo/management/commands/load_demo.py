from __future__ import annotations

import time
from typing import Any

from django.core.management.base import BaseCommand, CommandError, CommandParser
from django.utils import timezone

from cravik.demo import catalogue
from cravik.demo.sample import load_sample
from cravik.people.models import Business, User

_MAX = 1000


class Command(BaseCommand):
    help = "Load the sample business, Windlestraw Kites, with a year of visits and orders."

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("--scale", type=int, default=1, help=f"how many times as much, 1 to {_MAX}, for measuring")
        parser.add_argument("--once", action="store_true", help="do nothing where there is a business already")
        parser.add_argument("--say-how-to-sign-in", action="store_true", help="only print the sample's user")

    def handle(self, *args: Any, **options: Any) -> None:
        if options["say_how_to_sign_in"]:
            if User.objects.filter(email=catalogue.SELLER_EMAIL).exists():
                self.stdout.write(f"  Sign in as       {catalogue.SELLER_EMAIL}")
                self.stdout.write(f"  with password    {catalogue.SELLER_PASSWORD}")
            return
        if options["once"] and Business.objects.exists():
            return
        if not 1 <= options["scale"] <= _MAX:
            raise CommandError(f"--scale takes a whole number from 1 to {_MAX}.")
        if User.objects.filter(email=catalogue.SELLER_EMAIL).exists():
            raise CommandError("The sample is loaded already. To load it anew, start with an empty data folder.")
        begun = time.monotonic()
        self.stdout.write("  Loading the sample, Windlestraw Kites …")
        load_sample(timezone.now(), options["scale"])
        self.stdout.write(f"  Loaded in {time.monotonic() - begun:.1f} s.")
