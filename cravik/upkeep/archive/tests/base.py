from __future__ import annotations

import tempfile
from pathlib import Path

from django.test import TransactionTestCase, override_settings

from cravik.upkeep.archive.keeping import Rule
from cravik.upkeep.archive.locking import Lock
from tests.factories import make_item, make_live


class ArchiveTestCase(TransactionTestCase):
    """A data folder of its own, with a link, an item's file and a picture in it."""

    lock = Lock()

    def setUp(self) -> None:
        self.data = Path(self.enterContext(tempfile.TemporaryDirectory()))
        self.backups = self.data / "backups"
        self.enterContext(
            override_settings(
                DATA_DIR=self.data,
                CRAVIK_BACKUPS=self.backups,
                CRAVIK_BACKUPS_KEPT=Rule(days=2, weeks=0, months=0),
                CRAVIK_BACKUP_LOCK=self.lock,
            )
        )
        self.link = make_live()
        item = make_item(self.link.business, "Pattern", 650)
        item.files.create(key="a" * 32, title="sled.pdf", size=3, made_at=self.link.made_at)
        item.files.create(key="b" * 32, title="gone.pdf", size=3, made_at=self.link.made_at)
        self.link.business.looks.create(
            name="Dunes", document={"logo": {"name": "c" * 32, "widths": [320, 640]}}, changed_at=self.link.made_at
        )
        for name, content in (("files/" + "a" * 32, b"pdf"), (f"pictures/{'c' * 32}-320.webp", b"webp")):
            (self.data / name).parent.mkdir(exist_ok=True)
            (self.data / name).write_bytes(content)
