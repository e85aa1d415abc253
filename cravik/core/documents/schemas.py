"""The JSON Schemas of the documents, made from the very models that read them.

Rules that a schema cannot say (ascending breaks, a code's lines) are checked on reading alone.
"""

from __future__ import annotations

import json

from pydantic import BaseModel

from cravik.core.documents.basket import BasketDocument
from cravik.core.documents.link import LinkDocument
from cravik.core.documents.offer import OfferDocument


def schemas() -> dict[str, str]:
    """The text of each schema, by the name of its file."""
    models: dict[str, type[BaseModel]] = {
        "link.schema.json": LinkDocument,
        "offer.schema.json": OfferDocument,
        "basket.schema.json": BasketDocument,
    }
    head = {"$schema": "https://json-schema.org/draft/2020-12/schema"}
    return {
        name: json.dumps(head | model.model_json_schema(by_alias=True), indent=2, ensure_ascii=False) + "\n"
        for name, model in models.items()
    }
