#!/usr/bin/env python
"""Django's command line for Cravik."""

import os
import sys

from django.core.management import execute_from_command_line

from cravik.config.environment import WrongSettings

if __name__ == "__main__":
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "cravik.config.settings")
    os.umask(0o077)  # what the application writes is its owner's alone
    if len(sys.argv) > 1 and not sys.argv[1].startswith("-"):
        sys.argv[1] = sys.argv[1].replace("-", "_")  # commands are typed with hyphens
    try:
        execute_from_command_line(sys.argv)
    except WrongSettings as wrong:
        print("Cravik does not start:", *wrong.sentences, sep="\n  ", file=sys.stderr)
        sys.exit(2)
