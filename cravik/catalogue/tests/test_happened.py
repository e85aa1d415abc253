"""What is done to items is told, with who did it."""

from __future__ import annotations

from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import TestCase

from cravik.events.models import Event
from cravik.events.reading import events_after
from tests.factories import MembershipFactory, make_item


class ItemEventsTest(TestCase):
    def setUp(self) -> None:
        self.member = MembershipFactory()
        self.client.force_login(self.member.user)
        self.item = make_item(self.member.business, "Sled kite", code="SLED")
        self.path = f"/catalogue/{self.item.pk}/"
        Event.objects.all().delete()

    def told(self) -> list[str]:
        events = list(events_after(0, self.member.business_id))
        self.assertEqual({(each.item_id, each.by) for each in events}, {(self.item.pk, "member")})
        return [each.words for each in events]

    def test_each_act_is_told_once(self) -> None:
        variant = self.item.variants.get()
        typed = {"seen_count": "", "count": "12", "code": "S"}
        row = {f"row-{variant.pk}-{name}": value for name, value in typed.items()}
        for _ in range(2):
            self.client.post(f"{self.path}stock/", row)
        self.client.post(f"{self.path}goods/", {"act": "codes", "codes": "A-1\nA-2"})
        self.client.post(f"{self.path}goods/", {"file": SimpleUploadedFile("pattern.pdf", b"%PDF")})
        for _ in range(2):
            self.client.post(f"{self.path}archive/")
        for _ in range(2):
            self.client.post(f"{self.path}unarchive/")
        self.client.post(f"{self.path}remove/")
        self.assertEqual(
            self.told(),
            [
                "Stock of S: 12, was not counted",
                "Codes changed",
                "Files changed",
                "Archived",
                "Back in the catalogue",
                "“Sled kite” removed",
            ],
        )

    def test_what_could_not_be_done_is_not_told(self) -> None:
        self.client.post(f"{self.path}goods/", {"act": "codes", "codes": ""})
        self.client.post(f"{self.path}stock/", {})
        self.assertFalse(Event.objects.exists())
