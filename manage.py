#!/usr/bin/env python
"""Django's command line for Cravik."""

import gc
import os
import sys

from django.core.management import execute_from_command_line

from cravik import VERSION
from cravik.config.environment import WrongSettings

if __name__ == "__main__":
    gc.set_threshold(200_000, 20, 50)  # hardly anything that is imported is ever garbage
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "cravik.config.settings")
    os.umask(0o077)  # what the application writes is its owner's alone
    if len(sys.argv) > 1 and not sys.argv[1].startswith("-"):
        sys.argv[1] = sys.argv[1].replace("-", "_")  # commands are typed with hyphens
    if sys.argv[1:] in (["version"], ["--version"]):  # which Django would answer with its own
        print(VERSION)
        sys.exit()
    try:
        execute_from_command_line(sys.argv)
    except WrongSettings as wrong:
        print("Cravik does not start:", *wrong.sentences, sep="\n  ", file=sys.stderr)
        sys.exit(2)
