from __future__ import annotations

import time
from typing import Any
from unittest import mock

from django.core.files.uploadedfile import SimpleUploadedFile
from django.http import HttpResponse
from django.test import SimpleTestCase, TestCase

from cravik.catalogue.cells import joined, parted
from cravik.catalogue.models import Item, Option, TableUpload, Variant
from cravik.catalogue.table_import import FaultsLeft
from cravik.catalogue.table_work import SHORT, do_next_step, import_waiting_tables
from cravik.links.models import Link
from cravik.ui.spreadsheets import TableRefused, as_text, from_text, read_table
from tests.factories import MembershipFactory, make_item
from tests.sampling import count_of

ROWS = """code,name,kind,weight_g,prices,choice_1,options_1,stock
DELTA,Delta kite,goods,420,"48,00 | 39.00; To schools",Span,1.2 m; -6.00; 0; 12 | 1.8 m; ; 80,\
1.2 m; D-12; 4; 3; yes | 1.8 m; D-18
SLED,Sled kite,goods that are sent,,14,,,31
,Repair,service,,,,,
"""


class TableTestCase(TestCase):
    def setUp(self) -> None:
        self.member = MembershipFactory()
        self.client.force_login(self.member.user)

    def bring(self, content: str | bytes, name: str = "kites.csv") -> HttpResponse:
        data = content.encode() if isinstance(content, str) else content
        return self.client.post("/catalogue/spreadsheet/", {"table": SimpleUploadedFile(name, data)}, follow=True)

    def decide(self, act: str) -> HttpResponse:
        upload = TableUpload.objects.get(business=self.member.business)
        return self.client.post(f"/catalogue/spreadsheet/{upload.pk}/", {"act": act}, follow=True)

    def taken_out(self) -> str:
        return b"".join(self.client.get("/catalogue/spreadsheet/catalogue.csv").streaming_content).decode("utf-8-sig")


class LongTableTest(TableTestCase):
    """What takes long is the worker's, and can be left."""

    def setUp(self) -> None:
        super().setUp()
        self.waiting = self.enterContext(mock.patch("cravik.catalogue.table_work.enqueue_once"))
        self.bring("code,name\n" + "".join(f"K{number},Kite {number}\n" for number in range(SHORT + 1)))
        self.upload = TableUpload.objects.get()
        self.page = f"/catalogue/spreadsheet/{self.upload.pk}/"

    def progress(self) -> dict[str, Any]:
        return dict(self.client.get(f"{self.page}progress/").json())

    def test_it_is_checked_and_written_by_the_worker_while_its_page_tells_how_far_it_is(self) -> None:
        self.assertContains(self.client.get(self.page), "You can leave this page")
        self.assertEqual(self.progress(), {"busy": True, "done": 0, "total": SHORT + 1})
        import_waiting_tables.call()
        self.assertEqual(self.progress(), {"busy": False, "done": SHORT, "total": SHORT + 1})
        self.assertContains(self.client.get(self.page), f"<strong>{SHORT + 1}</strong> new")
        self.assertContains(self.decide("all"), "Writing 201 rows")
        self.assertContains(self.decide("forget"), "Writing 201 rows", status_code=409)
        self.assertContains(self.bring("name\nOther\n"), "still being written", status_code=400)
        import_waiting_tables.call()
        self.assertContains(self.client.get(self.page), "201 added, 0 changed, 0 unchanged.")
        self.assertContains(self.client.get("/catalogue/spreadsheet/"), "is in the catalogue")
        import_waiting_tables.call()
        self.assertEqual((Item.objects.count(), self.waiting.call_count), (SHORT + 1, 2))

    def test_what_goes_wrong_is_said_and_nothing_is_written(self) -> None:
        broken = mock.patch("cravik.catalogue.table_work.plan_for", side_effect=ZeroDivisionError)
        with broken, self.assertLogs("cravik.catalogue", "ERROR"):
            import_waiting_tables.call()
        self.assertContains(self.client.get(self.page), "Nothing was changed.")
        self.assertFalse(Item.objects.exists())
        self.decide("forget")
        self.assertFalse(TableUpload.objects.exists())

    def test_a_check_that_ends_late_does_not_call_off_the_writing(self) -> None:
        late = TableUpload.objects.get()
        import_waiting_tables.call()
        self.decide("all")
        do_next_step(late)
        import_waiting_tables.call()
        self.assertEqual(Item.objects.count(), SHORT + 1)

    def test_a_catalogue_that_changed_so_that_rows_became_faulty_is_shown_first(self) -> None:
        import_waiting_tables.call()
        self.decide("all")
        with mock.patch("cravik.catalogue.table_work.import_table", side_effect=FaultsLeft):
            import_waiting_tables.call()
        self.assertContains(self.client.get(self.page), "Nothing was written.")


class BringInTest(TableTestCase):
    def test_what_would_happen_is_shown_before_anything_is_written(self) -> None:
        shown = self.bring(ROWS)
        self.assertContains(shown, "<strong>3</strong> new")
        self.assertFalse(Item.objects.exists())
        self.assertContains(self.decide("all"), "3 added, 0 changed, 0 unchanged.")
        delta = Item.objects.get(code="DELTA")
        self.assertEqual(
            [(price.label, price.amount.major) for price in delta.prices.all()],
            [("", "48.00"), ("To schools", "39.00")],
        )
        self.assertEqual(
            list(Option.objects.order_by("id").values_list("name", "add_minor", "weight_g", "code")),
            [("1.2 m", -600, 0, "12"), ("1.8 m", 0, 80, "")],
        )
        stock = [(each.code, each.count, each.tell_at, each.sells_beyond) for each in delta.variants.order_by("id")]
        self.assertEqual(stock, [("D-12", 4, 3, True), ("D-18", None, None, False)])
        self.assertEqual(Item.objects.get(code="SLED").variants.get().count, 31)
        self.assertFalse(TableUpload.objects.exists())

    def test_what_is_taken_out_comes_in_again_unchanged(self) -> None:
        self.bring(ROWS)
        self.decide("all")
        strange = {"A|b;c+d": ("x;y", "+1\\2"), "Tail": ("long", "=SUM(A1)")}
        make_item(self.member.business, '=1+1 "quoted"', code="-X", choices=strange)
        Variant.objects.filter(item__code="-X").update(count=5)
        Variant.objects.filter(item__code="DELTA", code="D-18").update(tell_at=2)
        table = self.taken_out()
        self.assertIn("'=1+1", table)
        for sign in "=+-@＝＋－＠﹢﹣﹦﹫\n":
            self.assertEqual((as_text(f"{sign}1"), from_text(as_text(f"{sign}1"))), (f"'{sign}1", f"{sign}1"))
        self.assertContains(self.bring(table), "4 are as in the catalogue.")

    def test_an_item_is_changed_by_its_code_and_options_keep_their_ids(self) -> None:
        self.bring(ROWS)
        self.decide("all")
        before = {option.name: option.pk for option in Option.objects.all()}
        changed = (
            ROWS.replace("48,00", "52")
            .replace("1.8 m; ; 80", "1.8 m; 2 | 2.4 m; 9")
            .replace("Delta kite", "Delta renewed")
        )
        self.assertContains(self.bring(changed), "change <strong>1</strong>")
        self.decide("all")
        after = {option.name: option.pk for option in Option.objects.all()}
        self.assertEqual({name: after[name] for name in before}, before)
        delta = Item.objects.get(code="DELTA")
        self.assertEqual((delta.name, delta.price.major, delta.variants.count()), ("Delta renewed", "52.00", 3))
        self.assertEqual(delta.variants.get(code="D-12").count, 4)

    def test_links_follow_a_name_that_came_by_table(self) -> None:
        item = make_item(self.member.business, "Box", code="BOX")
        self.client.post(f"/links/of-item/{item.pk}/")
        self.bring("code,name\nBOX,Box kite\n")
        self.decide("all")
        self.assertEqual(Link.objects.get().offer.title, "Box kite")

    def test_each_faulty_cell_is_named_and_nothing_or_the_good_rows_are_written(self) -> None:
        faulty = (
            "code,name,kind,weight_g,currency,prices,choice_1,options_1,stock\n"
            "A,Good,,,,12.50,,,\n"
            "B,,airship,heavy,EURO,12.3456,,,many\n"
            "C,Options,,,,1,,red | red,\n"
            "A,Twice,,,,1,,,\n"
            'D,Stock,,,,1,Span,"a | b","c; X; 1"\n'
            'E,Ambiguous,,,,"1,234",,,\n'
            "F,Too wide,,,,,,,,,surplus\n"
        )
        shown = self.bring(faulty)
        for told in (
            "Give the item a name",
            "It is one of goods, download, service, seat.",
            "“heavy” is no whole number up to 1,000,000.",
            "not a currency code",
            "EUR has 2 decimals, so 12.3456 cannot be charged.",
            "“many” names no variant",
            "Say in up to 40 characters what is chosen",
            "Each option has a name of its own.",
            "Line 2 is of the same item.",
            "“c” names no variant of the options.",
            "1,234 can be read in two ways",
            "The row has more cells than there are columns.",
            "<strong>6</strong> rows cannot be imported",
        ):
            self.assertContains(shown, told)
        self.assertContains(shown, "<td>3</td><td>weight_g</td>")
        self.assertEqual(self.decide("all").status_code, 409)
        self.assertFalse(Item.objects.exists())
        self.decide("good")
        self.assertEqual(Item.objects.get().name, "Good")

    def test_forgetting_changes_nothing(self) -> None:
        self.bring(ROWS)
        self.assertContains(self.decide("forget"), "Nothing was changed.")
        self.assertFalse(Item.objects.exists() or TableUpload.objects.exists())

    def test_codes_of_variants_stay_unique(self) -> None:
        make_item(self.member.business, "Other", code="OTHER")
        Variant.objects.update(code="D-12")
        self.assertContains(self.bring(ROWS), "“D-12” is the code of another item&#x27;s variant.")

    def test_many_rows_with_faults_in_three(self) -> None:
        rows = count_of(5000, 1500)
        lines = ["name;code;prices;choice_1;options_1"]
        lines += [f'Kite {number};K{number};{number % 90},50;Span;"small | large; 2"' for number in range(rows)]
        lines[17] = lines[17].replace("K16", "x" * 41)
        lines[700] = ";" + lines[700].partition(";")[2]
        lines[rows - 1] = lines[rows - 1].replace(",50", ",505")
        begun = time.monotonic()
        shown = self.bring("\r\n".join(lines).encode("utf-16"))
        lead = shown.content.decode().partition('class="lead">')[2][:400]
        self.assertIn(f"<strong>{rows - 3:,}</strong> new", lead)
        for place in ("<td>18</td><td>code</td>", "<td>701</td><td>name</td>", f"<td>{rows}</td><td>prices</td>"):
            self.assertContains(shown, place)
        self.decide("good")
        self.assertEqual((Item.objects.count(), Variant.objects.count()), (rows - 3, 2 * (rows - 3)))
        self.assertLess(time.monotonic() - begun, 60)
        self.assertContains(self.bring("name\n" + "x\n" * 5001), "more than 5,000 rows", status_code=400)


class ReadTableTest(SimpleTestCase):
    def test_common_encodings_and_separators(self) -> None:
        for encoding in ("utf-8", "utf-8-sig", "utf-16", "cp1252"):
            for separator in ",;\t":
                with self.subTest(encoding, separator=separator):
                    text = f'name{separator}words\r\nGrün{separator}"a {separator} b"\r\n\r\n'
                    table = read_table(text.encode(encoding), 9)
                    self.assertEqual((table.head, table.rows), (["name", "words"], [(2, ["Grün", f"a {separator} b"])]))

    def test_what_is_no_table_is_refused_in_words(self) -> None:
        for told, content in {
            "workbook": b"PK\x03\x04 something",
            "text file": bytes(range(256)) * 40,
            "is empty": b"\n \n",
            "far too long": b'name\n"' + b"x" * 10_000_000 + b'"',
            "never closed": b'name\n"kite',
        }.items():
            with self.subTest(told), self.assertRaisesRegex(TableRefused, told):
                read_table(content, 9)

    def test_cells_of_several_parts_read_back(self) -> None:
        for parts in ([["a|b", "c;d"], ["e+f", "\\", "g"]], [["x"]], []):
            self.assertEqual(parted(joined(parts)), parts)


class RefusedUploadTest(TableTestCase):
    def test_a_file_that_cannot_be_used_is_told_and_kept_nowhere(self) -> None:
        cases: dict[str, Any] = {
            "columns that are not known: “colour”": "name,colour\nKite,red",
            "names each column once": "code,prices\nA,1",
            "each column once, “name”": "name,name\nA,B",
            "the most is 8 MB": "x" * 8_000_001,
            "It is a workbook": b"PK\x03\x04",
        }
        for told, content in cases.items():
            with self.subTest(told):
                self.assertContains(self.bring(content), told, status_code=400)
        self.assertContains(self.client.post("/catalogue/spreadsheet/"), "Choose a file first.", status_code=400)
        self.assertFalse(TableUpload.objects.exists())
