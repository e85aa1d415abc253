#!/usr/bin/env python
"""Django's command line for Cravik."""

import os
import sys

from django.core.management import execute_from_command_line

if __name__ == "__main__":
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "cravik.config.settings")
    os.umask(0o077)  # what the application writes is its owner's alone
    execute_from_command_line(sys.argv)
