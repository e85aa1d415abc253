#!/usr/bin/env python
"""Django's command line for Cravik."""

import gc
import os
import sys

from cravik import VERSION
from cravik.config.environment import WrongSettings
from cravik.later import later

management, quoting = later("django.core.management"), later("cravik.links.management.commands.quote")


def main(arguments: list[str]) -> None:
    """Do what was typed; what needs neither settings nor data is done without them."""
    if len(arguments) > 1 and not arguments[1].startswith("-"):
        arguments[1] = arguments[1].replace("-", "_")  # commands are typed with hyphens
    match arguments[1:]:
        case ["version"] | ["--version"]:  # which Django would answer with its own
            print(VERSION)
        case ["quote", *_]:
            quoting.Command().run_from_argv(arguments)
        case _:
            os.environ.setdefault("DJANGO_SETTINGS_MODULE", "cravik.config.settings")
            management.execute_from_command_line(arguments)


if __name__ == "__main__":
    gc.set_threshold(200_000, 20, 50)  # hardly anything that is imported is ever garbage
    os.umask(0o077)  # what the application writes is its owner's alone
    try:
        main(sys.argv)
    except WrongSettings as wrong:
        print("Cravik does not start:", *wrong.sentences, sep="\n  ", file=sys.stderr)
        sys.exit(2)
