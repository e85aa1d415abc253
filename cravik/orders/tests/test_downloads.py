"""Files and access codes: kept, sold once each, handed over after paying, counted and ended."""

from __future__ import annotations

import tempfile
from datetime import timedelta
from pathlib import Path
from typing import Any
from unittest import mock

import time_machine
from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import Client, TestCase, override_settings
from django.utils import timezone

from cravik.catalogue.digital_goods import add_codes, file_path
from cravik.catalogue.models import AccessCode, Item, ItemFile
from cravik.links.life import lifecycle
from cravik.links.making.copies import make_link_of_item
from cravik.links.models import Link
from cravik.mailroom.models import Letter
from cravik.orders.downloads import GO_ON_FOR
from cravik.orders.late_files import hand_over_late_files
from cravik.orders.letter_tasks import write_due_letters
from cravik.orders.models import Download, Order
from tests.factories import BY, NOW, MembershipFactory, make_item
from tests.links import line, make_link
from tests.paying import APPROVES, FALLS_SILENT, NO_FUNDS, filled_in, open_page, pay_live, send


class HandedOverTestCase(TestCase):
    def setUp(self) -> None:
        self.folder = self.enterContext(tempfile.TemporaryDirectory())
        self.enterContext(override_settings(CRAVIK_FILES=self.folder))
        self.member = MembershipFactory()
        self.client.force_login(self.member.user)
        self.item = make_item(self.member.business, "Kite pattern", 900)
        Item.objects.filter(id=self.item.pk).update(kind="download")
        self.item.refresh_from_db()

    def give(self, *files: tuple[str, bytes], codes: str = "") -> Any:
        address = f"/catalogue/{self.item.pk}/goods/"
        if codes:
            return self.client.post(address, {"act": "codes", "codes": codes})
        return self.client.post(address, {"file": [SimpleUploadedFile(name, content) for name, content in files]})

    def live(self) -> Link:
        link = lifecycle.publish(
            make_link_of_item(self.member.business, self.item, self.item.price, NOW, by=BY), NOW, by=BY
        )
        self.client.logout()
        return link


class KeepingTest(HandedOverTestCase):
    def test_files_are_kept_outside_of_the_web_under_names_of_their_own(self) -> None:
        self.assertEqual(
            self.give(("../../etc/Pattern <1>.pdf", b"%PDF"), ("b.mp3", b"x" * 4_000_000)).status_code, 302
        )
        file = ItemFile.objects.earliest("id")
        self.assertEqual((file.title, file.size), ("Pattern <1>.pdf", 4))
        self.assertEqual(file_path(file.key).read_bytes(), b"%PDF")
        self.assertEqual(file_path(file.key).parent, Path(self.folder))
        page = self.client.get(f"/catalogue/{self.item.pk}/goods/")
        self.assertContains(page, "Pattern &lt;1&gt;.pdf")
        self.assertNotContains(page, file.key)

    def test_what_cannot_be_taken_is_told(self) -> None:
        self.assertContains(self.give(("a.pdf", b"")), "“a.pdf” was not taken: it is empty.", status_code=400)
        self.assertContains(self.give(), "Choose a file first.", status_code=400)
        with mock.patch("cravik.catalogue.digital_goods.MAX_BYTES", 3_000_000):
            self.assertContains(
                self.give(("big.zip", bytes(3_500_000))), "it has 4 MB, and the most is 3 MB", status_code=400
            )
        for number in range(10):
            self.give((f"{number}.txt", b"x"))
        self.assertContains(self.give(("11.txt", b"x")), "10 files at most", status_code=400)
        self.assertEqual(len(list(Path(self.folder).iterdir())), 10)

    def test_codes_are_pasted_one_a_line(self) -> None:
        answer = self.client.post(
            f"/catalogue/{self.item.pk}/goods/", {"act": "codes", "codes": " A-1 \r\n\r\nA-2\nA-1\n"}, follow=True
        )
        self.assertContains(answer, "2 new codes kept. 1 stood there twice")
        self.give(codes="A-2\nA-3")
        self.assertEqual([each.code for each in AccessCode.objects.order_by("id")], ["A-1", "A-2", "A-3"])
        long = self.give(codes="A-4\n" + "x" * 201)
        self.assertContains(long, "Line 2 has 201 characters; the most is 200.", status_code=400)
        self.assertContains(long, "A-4", status_code=400)
        many = self.give(codes="\n".join(map(str, range(5_001))))
        self.assertContains(many, "5,001 codes; the most at once is 5,000", status_code=400)
        self.assertContains(self.give(codes=" \n "), "Paste at least one code", status_code=400)
        self.client.post(f"/catalogue/{self.item.pk}/goods/act/", {"act": "codes"})
        self.assertFalse(AccessCode.objects.exists())

    def test_removing_the_item_removes_its_files(self) -> None:
        self.give(("a.pdf", b"x"))
        self.client.post(f"/catalogue/{self.item.pk}/remove/")
        self.assertEqual(list(Path(self.folder).iterdir()), [])


class CodeTest(HandedOverTestCase):
    def states(self) -> list[str]:
        return list(AccessCode.objects.order_by("id").values_list("state", flat=True))

    def test_each_sale_gets_one_and_a_decline_gives_it_back(self) -> None:
        add_codes(self.item, "A-1\nA-2", NOW, by=BY)
        link = self.live()
        self.assertContains(self.client.get(link.path), "you get an access code.")
        declined = send(self.client, link, open_page(self.client, link) | {"card_number": NO_FUNDS})
        self.assertEqual(self.states(), ["free", "free"])
        paid = send(self.client, link, filled_in(declined) | {"card_number": APPROVES})
        self.assertEqual(self.states(), ["given", "free"])
        self.assertContains(self.client.get(paid["Location"]), "A-1")
        again = pay_live(self.client, link, email="b@dunes.example")
        self.assertContains(self.client.get(again["Location"]), "A-2")
        self.assertContains(self.client.get(link.path), "Sold out")
        write_due_letters.call()
        receipts = Letter.objects.filter(kind="receipt").order_by("id")
        self.assertEqual(["A-1" in each.text for each in receipts], [True, False])
        self.client.force_login(self.member.user)
        self.assertContains(self.client.get(Order.objects.earliest("id").path), "A-1")

    def test_the_last_one_is_held_while_somebody_pays(self) -> None:
        add_codes(self.item, "A-1", NOW, by=BY)
        link = self.live()
        other = open_page(self.client, link)
        pay_live(self.client, link, card_number=FALLS_SILENT)
        self.assertEqual(self.states(), ["held"])
        refused = send(self.client, link, other | {"email": "b@dunes.example"})
        self.assertContains(refused, "The last one was sold a moment ago.", status_code=409)
        self.assertEqual(Order.objects.count(), 0)

    def test_a_rehearsal_uses_none_up(self) -> None:
        add_codes(self.item, "A-1", NOW, by=BY)
        draft = make_link_of_item(self.member.business, self.item, self.item.price, NOW, by=BY)
        form = filled_in(self.client.get(f"/for/rehearsal/{draft.pk}/"))
        paid = self.client.post(f"/for/rehearsal/{draft.pk}/pay/", form)
        page = self.client.get(paid["Location"])
        self.assertContains(page, "Rehearsals use none up.")
        self.assertNotContains(page, "A-1")
        self.assertEqual(self.states(), ["free"])


class DownloadTest(HandedOverTestCase):
    def bought(self) -> tuple[Any, Download]:
        self.give(("Pattern.pdf", b"%PDF-kite"))
        link = self.live()
        self.assertContains(self.client.get(link.path), "1 file to download")
        paid = pay_live(self.client, link)
        return self.client.get(paid["Location"]), Download.objects.get()

    def test_the_address_is_given_after_payment_only_and_counts(self) -> None:
        page, download = self.bought()
        self.assertContains(page, download.path)
        answer = self.client.get(download.path)
        self.assertEqual(b"".join(answer.streaming_content), b"%PDF-kite")
        self.assertEqual(answer["Content-Disposition"], 'attachment; filename="Pattern.pdf"')
        self.assertEqual(answer["Content-Type"], "application/octet-stream")
        self.assertEqual(self.client.head(download.path).status_code, 200)
        download.refresh_from_db()
        self.assertEqual(download.taken, 1)
        for number in range(9):
            answer = self.client.get(download.path, headers={"user-agent": f"Reader {number}"})
            self.assertEqual(answer.status_code, 200)
        over = self.client.get(download.path, headers={"user-agent": "Reader 10"})
        self.assertContains(over, "Download expired", status_code=410)
        for wrong in ("/paid/file/nothing/", f"/paid/file/{ItemFile.objects.get().key}/"):
            self.assertEqual(self.client.get(wrong).status_code, 404)

    def test_what_broke_off_is_gone_on_with_and_counts_once(self) -> None:
        _, download = self.bought()
        for asked, status, found, told in (
            ("bytes=0-3", 206, b"%PDF", "bytes 0-3/9"),
            ("bytes=4-", 206, b"-kite", "bytes 4-8/9"),
            ("bytes=4-999", 206, b"-kite", "bytes 4-8/9"),
            ("bytes=-4", 206, b"kite", "bytes 5-8/9"),
            ("bytes=0-", 200, b"%PDF-kite", None),
            ("bytes=-", 200, b"%PDF-kite", None),
            ("bytes=0-1,4-5", 200, b"%PDF-kite", None),
            ("lines=1-2", 200, b"%PDF-kite", None),
        ):
            with self.subTest(asked=asked):
                answer = self.client.get(download.path, headers={"range": asked})
                self.assertEqual((answer.status_code, answer.get("Content-Range")), (status, told))
                self.assertEqual(b"".join(answer.streaming_content), found)
                self.assertEqual((answer["Content-Length"], answer["Accept-Ranges"]), (str(len(found)), "bytes"))
                self.assertEqual(answer["Content-Type"], "application/octet-stream")
        for none_there in ("bytes=9-", "bytes=5-4", "bytes=-0"):
            beyond = self.client.get(download.path, headers={"range": none_there})
            self.assertEqual((beyond.status_code, beyond["Content-Range"]), (416, "bytes */9"))
        download.refresh_from_db()
        self.assertEqual(download.taken, 1)
        with time_machine.travel(timezone.now() + GO_ON_FOR + timedelta(minutes=1)):
            self.client.get(download.path)
        download.refresh_from_db()
        self.assertEqual(download.taken, 2)

    def test_the_last_time_can_be_gone_on_with_too(self) -> None:
        _, download = self.bought()
        Download.objects.update(taken=9)
        for _ in range(3):
            self.assertEqual(self.client.get(download.path).status_code, 200)

    def test_a_file_that_is_missing_counts_nothing(self) -> None:
        _, download = self.bought()
        file_path(download.file.key).unlink()
        self.assertEqual(self.client.get(download.path).status_code, 404)
        self.assertEqual(self.client.head(download.path).status_code, 404)
        download.refresh_from_db()
        self.assertEqual(download.taken, 0)

    def test_it_ends_after_a_month_and_the_seller_can_open_it_again(self) -> None:
        _, download = self.bought()
        with time_machine.travel(download.until + timedelta(seconds=1)):
            self.assertEqual(self.client.get(download.path).status_code, 410)
            self.client.force_login(self.member.user)
            self.client.post(f"/orders/{download.order_id}/open-again/")
            self.assertEqual(self.client.get(download.path).status_code, 200)
        self.assertContains(self.client.get(download.order.path), "taken 1 of 10 times")

    def test_a_file_that_is_given_no_more_is_still_theirs_who_bought_it(self) -> None:
        _, download = self.bought()
        self.client.force_login(self.member.user)
        self.client.post(f"/catalogue/{self.item.pk}/goods/act/", {"file": str(download.file_id)})
        foreign = self.client.post(f"/catalogue/{self.item.pk}/goods/act/", {"file": "999"})
        self.assertEqual(foreign.status_code, 404)
        self.client.logout()
        self.assertEqual(self.client.get(download.path).status_code, 200)
        pay_live(self.client, Link.objects.get(), email="b@dunes.example")
        self.assertEqual(Download.objects.count(), 1)

    def test_the_receipt_leads_to_the_page_and_counts_nothing(self) -> None:
        self.bought()
        write_due_letters.call()
        receipt = Letter.objects.get(kind="receipt")
        self.assertIn("Pattern.pdf", receipt.text)
        self.assertIn(Order.objects.get().checkout.path, receipt.text)
        self.assertNotIn(Download.objects.get().key, receipt.html)


class LateFileTest(HandedOverTestCase):
    """A download of which there is nothing to give: publishing says so, and who paid gets it once it is there."""

    def setUp(self) -> None:
        super().setUp()
        self.link = make_link_of_item(self.member.business, self.item, self.item.price, NOW, by=BY)

    def publish(self, **sent: str) -> Any:
        return self.client.post(f"/links/{self.link.pk}/publish/", sent)

    def letters(self) -> list[Letter]:
        return list(Letter.objects.filter(kind="files_arrived").order_by("id"))

    def test_publishing_says_what_is_promised_and_missing(self) -> None:
        self.assertContains(self.client.get(f"/links/{self.link.pk}/"), "has no file or access code to give yet")
        page = self.publish()
        self.assertContains(page, "neither a file nor an access code", status_code=409)
        self.assertContains(page, f"/catalogue/{self.item.pk}/goods/", status_code=409)
        self.link.refresh_from_db()
        self.assertEqual(self.link.state, Link.State.DRAFT)
        self.assertEqual(self.publish(lacking="yes").status_code, 302)
        self.link.refresh_from_db()
        self.assertEqual(self.link.state, Link.State.LIVE)

    def test_with_a_file_or_codes_it_is_published_at_once(self) -> None:
        self.give(codes="A-1")
        self.assertEqual(self.publish().status_code, 302)

    def test_who_paid_before_gets_it_and_a_letter_once(self) -> None:
        self.publish(lacking="yes")
        seller, buyer = self.client, Client()
        paid = pay_live(buyer, self.link)
        self.assertContains(buyer.get(paid["Location"]), "The file is not there yet.")
        self.assertIn("Your file is not there yet.", Letter.objects.get(kind="receipt").text)
        pay_live(buyer, self.link, card_number=NO_FUNDS, email="poor@dunes.example")
        self.client = seller
        self.give(("one.pdf", b"%PDF"), ("two.pdf", b"%PDF"))
        (letter,) = self.letters()
        self.assertEqual(letter.to_address, "maren@dunes.example")
        self.assertIn("one.pdf", letter.text)
        self.assertIn("two.pdf", letter.text)
        self.assertContains(buyer.get(paid["Location"]), "one.pdf")
        self.assertEqual(Download.objects.count(), 2)
        hand_over_late_files.call(self.item.pk)
        self.assertEqual((len(self.letters()), Download.objects.count()), (1, 2))
        self.give(("three.pdf", b"%PDF"))
        self.assertEqual((len(self.letters()), Download.objects.count()), (2, 3))

    def test_who_got_a_file_gets_no_letter_about_another(self) -> None:
        self.give(("one.pdf", b"%PDF"))
        self.publish()
        pay_live(Client(), self.link)
        self.give(("two.pdf", b"%PDF"))
        self.assertEqual((self.letters(), Download.objects.count()), ([], 1))

    def test_what_a_buyer_left_out_is_not_handed_over(self) -> None:
        other = make_item(self.member.business, "Other pattern", 900, code="OTHER")
        Item.objects.filter(id=other.pk).update(kind="download")
        extra = line("extra", "Other pattern", "9.00") | {"optional": True}
        link = make_link(line(), extra, business=self.member.business, items={"extra": "OTHER"})
        pay_live(Client(), link)
        self.item = other
        self.give(("other.pdf", b"%PDF"))
        self.assertEqual((self.letters(), Download.objects.count()), ([], 0))
