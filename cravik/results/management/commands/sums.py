"""The sums that the results are read from: made anew, or held against what they are of."""

from __future__ import annotations

from datetime import timedelta
from typing import Any

from django.core.management.base import CommandError, CommandParser
from django.utils import timezone

from cravik.orders.summing import differences, forget_sums, sum_days
from cravik.people.models import Business
from cravik.upkeep.commands import DataCommand

WRONG = 1


class Command(DataCommand):
    help = (
        "Sum visits and money by day and month, as far as days are over. With --again from the beginning, with --check"
        " nothing is written: exit status 1 if a sum is not what visits and ledger say."
    )

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("--again", action="store_true", help="from the beginning, even what is summed")
        parser.add_argument("--check", action="store_true", help="hold each day's sums against what they are of")

    def handle(self, *args: Any, **options: Any) -> None:
        wrong = 0
        for business in Business.objects.order_by("id"):
            if options["check"]:
                found = list(differences(business))
                wrong += len(found)
                for day in found:
                    self.stdout.write(f"{business.name}: the sums of {day} are wrong")
                continue
            if options["again"]:
                forget_sums(business)
            began = timezone.now()
            days = sum_days(business, began)
            self.stdout.write(
                f"{business.name}: {days} days summed in {(timezone.now() - began) / timedelta(seconds=1):.1f} s"
            )
        if wrong:
            raise CommandError(f"{wrong} days are wrong. Run sums --again.", returncode=WRONG)
        if options["check"]:
            self.stdout.write("Every sum is right.")
