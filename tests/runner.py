"""How tests are run: on tables that are made at once, as those of a new installation are."""

from __future__ import annotations

import os
import sqlite3
import unittest
from contextlib import closing
from typing import Any
from unittest import mock

from django.db import connection
from django.template import Context, Template
from django.test.runner import DiscoverRunner
from django.test.signals import template_rendered
from django.test.utils import iter_test_cases

from cravik.upkeep.fresh import make_fresh


class FreshRunner(DiscoverRunner):
    """A hundred migrations take longer than most of what is tested; ``test_fresh`` holds the two to each other.

    ``CRAVIK_SHARE=1/2`` runs every second class, beginning with the first: each of two processes has its share.
    """

    def build_suite(self, *arguments: Any, **options: Any) -> unittest.TestSuite:
        suite: unittest.TestSuite = super().build_suite(*arguments, **options)
        which, _, of = os.environ.get("CRAVIK_SHARE", "").partition("/")
        if not of:
            return suite
        tests = list(iter_test_cases(suite))
        shared_out = sorted({_class_of(test) for test in tests})[int(which) - 1 :: int(of)]
        return unittest.TestSuite(test for test in tests if _class_of(test) in shared_out)

    def setup_test_environment(self, **options: Any) -> None:
        super().setup_test_environment(**options)
        Template._render = _render_and_tell_of_the_page  # type: ignore[attr-defined]  # set back by Django's tear-down

    def setup_databases(self, **options: Any) -> Any:
        make = connection.creation._create_test_db  # type: ignore[attr-defined]  # not in Django's stubs

        def make_with_tables(*arguments: Any) -> str:
            name: str = make(*arguments)
            with closing(sqlite3.connect(name)) as database:
                make_fresh(database)
            return name

        with mock.patch.object(connection.creation, "_create_test_db", make_with_tables):
            return super().setup_databases(**options)


def _render_and_tell_of_the_page(template: Template, context: Context) -> str:
    """Tell tests what a page was made of, once a page.

    Django tells it of each template that a page includes, some hundred, with a copy of all that it was given.
    """
    if context.template is template:
        template_rendered.send(sender=template, template=template, context=context)
    return template.nodelist.render(context)


def _class_of(test: unittest.TestCase) -> str:
    return f"{type(test).__module__}.{type(test).__qualname__}"
