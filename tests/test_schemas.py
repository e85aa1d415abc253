from __future__ import annotations

import json
import unittest

from cravik.core.documents.schemas import schemas
from tools.schemas import FOLDER


class SchemasTest(unittest.TestCase):
    def test_what_is_kept_in_the_docs_is_what_the_models_say(self) -> None:
        for name, text in schemas().items():
            with self.subTest(name):
                self.assertEqual((FOLDER / name).read_text(), text, "python -m tools.schemas writes them anew")
                self.assertFalse(json.loads(text)["additionalProperties"])
