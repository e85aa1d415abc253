"""That the types of parsed documents have the keys that reading knows."""

from __future__ import annotations

import types
from typing import Annotated, Any, Union, get_args, get_origin, get_type_hints, is_typeddict
from unittest import TestCase

from cravik.core.documents import data
from cravik.core.documents.basket import BasketDocument
from cravik.core.documents.link import LinkDocument
from cravik.core.documents.parts import DocumentPart

#: What Setup decides is read and written by forms of its own.
_OF_SETUP = {"tax", "delivery", "fee"}


def _models(hint: Any) -> list[type[DocumentPart]]:
    """The documents that may stand where the hint does, of all kinds."""
    if isinstance(hint, type) and issubclass(hint, DocumentPart):
        return [hint]
    return [model for each in get_args(hint) for model in _models(each)]


def _tables(hint: Any) -> list[Any]:
    """The same of the types of parsed documents."""
    if is_typeddict(hint):
        return [hint]
    return [table for each in get_args(hint) for table in _tables(each)]


def _fields(models: list[type[DocumentPart]]) -> dict[str, Any]:
    """Each field under the name that it has in a document, with what may stand there in all of the models."""
    found: dict[str, list[Any]] = {}
    for model in models:
        hints = get_type_hints(model, include_extras=True)
        for name, field in model.model_fields.items():
            found.setdefault(field.alias or name, []).append(hints[name])
    return {name: Union[tuple(hints)] for name, hints in found.items()}  # noqa: UP007  # of a list


def _is_list(hint: Any) -> bool:
    if get_origin(hint) in (Annotated, Union, types.UnionType):
        return any(_is_list(each) for each in get_args(hint)[: 1 if get_origin(hint) is Annotated else None])
    return get_origin(hint) is list


def _collect(table: Any, models: list[type[DocumentPart]], found: dict[Any, list[type[DocumentPart]]]) -> None:
    """Put into ``found`` which documents the table stands for, and each that is inside it."""
    new = [model for model in models if model not in found.setdefault(table, [])]
    found[table] += new
    for name, hint in _fields(new).items():
        inside = get_type_hints(table).get(name)
        if name not in _OF_SETUP and _models(hint):
            for each in _tables(inside):
                _collect(each, _models(hint), found)


class DataTests(TestCase):
    def test_a_link_and_a_basket_have_the_keys_that_are_read(self) -> None:
        found: dict[Any, list[type[DocumentPart]]] = {}
        _collect(data.LinkData, [LinkDocument], found)
        _collect(data.BasketData, [BasketDocument], found)
        for table, models in found.items():
            fields, keys = _fields(models), get_type_hints(table)
            self.assertEqual(sorted(keys), sorted(fields), table.__name__)
            for name in keys.keys() - _OF_SETUP:
                of = f"{table.__name__}.{name}"
                self.assertEqual(bool(_tables(keys[name])), bool(_models(fields[name])), of)
                self.assertEqual(_is_list(keys[name]), _is_list(fields[name]), of)
        every = {each for each in vars(data).values() if is_typeddict(each)}
        self.assertEqual(every - found.keys(), {data.EffectiveData})
