"""Prepared queries say and do what Django's own way does."""

from __future__ import annotations

import sys
import threading
from datetime import UTC, datetime, timedelta
from typing import Any

from django.db import IntegrityError, connection, transaction
from django.db.models import DateTimeField, F, QuerySet
from django.test import TestCase, TransactionTestCase

from cravik.journal.models import Visit
from cravik.links.models import Link, LinkTally, Version
from cravik.upkeep.prepared import Param, PreparedSelect, PreparedUpdate, insert
from tests.factories import NOW, make_live

SINCE = PreparedSelect(
    lambda: (
        Visit.objects.filter(opened_at__gt=Param("since", DateTimeField()), visitor=Param("visitor"))
        .order_by("-opened_at")
        .values_list("id", "opened_at", "visitor")[:2]
    )
)
BOOKED = PreparedUpdate(
    lambda: LinkTally.objects.filter(pk=Param("link"), paid__lt=Param("most")), paid=F("paid") + Param("more")
)


def documents() -> QuerySet[Version, tuple[Any, ...]]:
    return Version.objects.filter(link_id=Param("link")).values_list("document", "number")


DOCUMENTS = PreparedSelect(documents)


def visit(link: Link, visitor: str, opened_at: datetime) -> Visit:
    spot = link.spots.get()
    return Visit(
        business_id=link.business_id,
        link_id=link.pk,
        spot_id=spot.pk,
        visitor=visitor,
        rung=1,
        opened_at=opened_at,
        last_at=opened_at,
    )


class FirstUseTest(TransactionTestCase):
    def test_threads_that_need_it_first_at_once_each_get_all_of_it(self) -> None:
        """Threads are switched every few instructions, so that half of what one made would be seen by another."""
        link = make_live()
        self.addCleanup(sys.setswitchinterval, sys.getswitchinterval())
        sys.setswitchinterval(1e-6)
        trouble: list[BaseException] = []

        def use(query: PreparedSelect, start: threading.Barrier) -> None:
            start.wait()
            try:
                assert [number for _, number in query.rows(link=link.pk)] == [1]
            except BaseException as found:
                trouble.append(found)
            finally:
                connection.close()

        for _ in range(25):
            query, start = PreparedSelect(documents), threading.Barrier(4)
            threads = [threading.Thread(target=use, args=(query, start)) for _ in range(4)]
            for thread in threads:
                thread.start()
            for thread in threads:
                thread.join()
        self.assertEqual(trouble, [])


class PreparedTest(TestCase):
    def setUp(self) -> None:
        self.link = make_live()

    def test_rows_are_those_of_the_queryset_whatever_the_values_and_however_often(self) -> None:
        made = [insert(visit(self.link, who, NOW + timedelta(hours=hour))) for hour, who in enumerate("aabbab")]
        for who in ("a", "b", "o'); DROP TABLE journal_visit; --"):
            for hour in (-1, 0, 3):
                since = NOW + timedelta(hours=hour)
                wanted = Visit.objects.filter(opened_at__gt=since, visitor=who).order_by("-opened_at")[:2]
                with self.subTest((who, hour)), self.assertNumQueries(1):
                    found = SINCE.rows(since=since, visitor=who)
                self.assertEqual(found, list(wanted.values_list("id", "opened_at", "visitor")))
        self.assertEqual(SINCE.first(since=NOW, visitor="nobody"), None)
        self.assertEqual(made[0].opened_at.tzinfo, UTC)

    def test_documents_come_back_as_they_were(self) -> None:
        version = Version.objects.get(link=self.link)
        self.assertEqual(DOCUMENTS.rows(link=self.link.pk), [(version.document, 1)])

    def test_an_update_changes_the_rows_that_it_names_and_says_how_many(self) -> None:
        other = make_live()
        self.assertEqual([BOOKED.run(link=self.link.pk, most=3, more=2) for _ in range(3)], [1, 1, 0])
        self.assertEqual(LinkTally.objects.get(link=self.link).paid, 4)
        self.assertEqual(LinkTally.objects.get(link=other).paid, 0)

    def test_an_update_reads_back_what_it_made_of_the_row(self) -> None:
        back = PreparedUpdate(
            lambda: Visit.objects.filter(id=Param("visit"), rung__lt=4), back=("rung", "opened_at"), rung=F("rung") + 1
        )
        row = visit(self.link, "a", NOW)
        row.save()
        self.assertEqual([back.changed(visit=row.pk) for _ in range(2)], [(2, NOW), (3, NOW)])
        self.assertEqual(Visit.objects.get(pk=row.pk).rung, 3)
        self.assertIsNone(back.changed(visit=row.pk + 1))

    def test_a_row_that_is_inserted_is_the_one_that_save_would_make(self) -> None:
        prepared, usual = visit(self.link, "prepared", NOW), visit(self.link, "usual", NOW)
        insert(prepared)
        usual.save()
        names = [field.attname for field in Visit._meta.concrete_fields if field.attname not in ("id", "visitor")]
        first, second = (Visit.objects.values(*names).get(id=each.pk) for each in (prepared, usual))
        self.assertEqual(first, second)
        prepared.visitor = "changed"
        prepared.save()
        self.assertEqual(Visit.objects.count(), 2)

    def test_the_database_refuses_what_it_refuses_anyway(self) -> None:
        wrong = visit(self.link, "x", NOW)
        wrong.rung = 9
        with self.assertRaises(IntegrityError), transaction.atomic():
            insert(wrong)
        with self.assertRaises(KeyError):
            SINCE.rows(since=NOW)
