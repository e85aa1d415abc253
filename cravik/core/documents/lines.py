"""What a line of an offer may hold: its price, its options, its quantity."""

from __future__ import annotations

from typing import Annotated, Any, Literal, Self

from pydantic import Field, field_validator, model_validator

from cravik.core.documents.parts import (
    MAX_LEVEL_WORDS,
    MAX_LEVELS,
    MAX_OPTION_GROUPS,
    MAX_OPTIONS,
    MAX_ROWS,
    Amount,
    Count,
    DocumentPart,
    Grams,
    Name,
    SignedAmount,
    Slug,
    ascending,
    no_two,
    path,
    wrong,
)
from cravik.core.pricing import offer, options, price, tax


class FixedPriceDocument(DocumentPart):
    reads = price.FixedPrice

    kind: Literal["fixed"]
    amount: Amount
    was: Amount | None = None


class LevelDocument(DocumentPart):
    reads = price.Level

    key: Slug
    name: Name
    amount: Amount
    words: Annotated[str, Field(max_length=MAX_LEVEL_WORDS)] = ""


class LevelsPriceDocument(DocumentPart):
    reads = price.LevelsPrice

    kind: Literal["levels"]
    levels: Annotated[
        list[LevelDocument],
        Field(min_length=2, max_length=MAX_LEVELS),
        no_two("level key", lambda level: level.key, "key"),
    ]


class BreakDocument(DocumentPart):
    reads = price.Break

    from_: Annotated[Count, Field(alias="from")]
    unit: Amount
    flat: Amount | None = None


class QuantityPriceDocument(DocumentPart):
    reads = price.QuantityPrice

    kind: Literal["quantity"]
    method: Literal["all_units", "incremental"]
    breaks: Annotated[list[BreakDocument], Field(min_length=1, max_length=MAX_ROWS)]

    @field_validator("breaks")
    @classmethod
    def _breaks_ascend(cls, breaks: list[BreakDocument]) -> list[BreakDocument]:
        ascending("from", 1, [each.from_ for each in breaks])
        return breaks


class PacksPriceDocument(DocumentPart):
    reads = price.PacksPrice

    kind: Literal["packs"]
    size: Count
    amount: Amount


class BundleDocument(DocumentPart):
    reads = price.Bundle

    count: Annotated[int, Field(ge=2, le=price.MAX_IN_BUNDLES)]
    amount: Amount


class BundlesPriceDocument(DocumentPart):
    reads = price.BundlesPrice

    kind: Literal["bundles"]
    unit: Amount
    bundles: Annotated[list[BundleDocument], Field(min_length=1, max_length=MAX_LEVELS)]

    @model_validator(mode="after")
    def _rise_and_save(self) -> Self:
        before = 1
        for number, each in enumerate(self.bundles):
            if each.count <= before:
                raise wrong("bundle_not_larger", path("bundles", number, "count"))
            before = each.count
            if self.unit is None or each.amount is None:  # the currency is a fault of its own
                continue
            singly = self.unit * each.count
            if each.amount >= singly:
                raise wrong("bundle_saves_nothing", path("bundles", number, "amount"), count=each.count, singly=singly)
        return self


class OpenPriceDocument(DocumentPart):
    reads = price.OpenPrice

    kind: Literal["open"]
    min: Amount
    max: Amount | None
    suggested: Annotated[list[Amount], Field(max_length=MAX_LEVELS)] = []
    start: Amount | None = None

    @model_validator(mode="after")
    def _within_bounds(self) -> Self:
        if self.min and self.max is not None and self.max < self.min:
            raise wrong("most_below_least", "max")
        for number, amount in enumerate(self.suggested):
            self._checked(path("suggested", number), amount)
        return self._checked("start", self.start)

    def _checked(self, at: str, amount: Any) -> Self:
        if amount is not None and self.min is not None and amount < self.min:
            raise wrong("below_least", at, least=self.min)
        if amount is not None and self.max is not None and amount > self.max:
            raise wrong("above_most", at, most=self.max)
        return self


PriceDocument = Annotated[
    FixedPriceDocument
    | LevelsPriceDocument
    | QuantityPriceDocument
    | PacksPriceDocument
    | BundlesPriceDocument
    | OpenPriceDocument,
    Field(discriminator="kind"),
]


class OptionDocument(DocumentPart):
    reads = options.Option

    name: Name
    add: SignedAmount | None = None
    weight_g: Grams = 0


class OptionGroupDocument(DocumentPart):
    reads = options.OptionGroup

    name: Name
    options: Annotated[
        list[OptionDocument],
        Field(min_length=1, max_length=MAX_OPTIONS),
        no_two("option", lambda option: option.name, "name"),
    ]


class QuantityDocument(DocumentPart):
    reads = offer.Quantity

    default: Count = 1
    min: Count = 1
    max: Count | None = 1

    @model_validator(mode="after")
    def _within_bounds(self) -> Self:
        if self.max is not None and self.max < self.min:
            raise wrong("most_below_least", "max")
        if self.default < self.min or (self.max is not None and self.default > self.max):
            raise wrong("default_out_of_bounds", "default")
        return self


class LineDocument(DocumentPart):
    reads = offer.Line

    key: Slug
    name: Name
    price: PriceDocument
    sku: Name | None = None
    quantity: QuantityDocument = QuantityDocument()
    optional: bool = False
    choices: Annotated[
        list[OptionGroupDocument],
        Field(max_length=MAX_OPTION_GROUPS),
        no_two("choice", lambda choice: choice.name, "name"),
    ] = []
    ships: bool = False
    weight_g: Grams = 0
    tax_category: Name = tax.STANDARD
    once: bool = False

    @model_validator(mode="after")
    def _fits_the_price(self) -> Self:
        check_adds(self.price, self.choices)
        check_most(self.price, self.quantity)
        return self


def check_most(of: Any, quantity: QuantityDocument, at: str = "quantity.max") -> None:
    """Raises where more pieces may be bought than a price in bundles is worked out for."""
    if isinstance(of, BundlesPriceDocument) and (quantity.max is None or quantity.max > price.MAX_IN_BUNDLES):
        raise wrong("too_many_in_bundles", at, most=price.MAX_IN_BUNDLES)


def check_adds(of: Any, choices: list[OptionGroupDocument], at: str = "") -> None:
    """Raises where options add to a price that takes no additions, or bring a unit below zero. The fault stands at
    the option, or ``at`` the price where that is looked at on its own."""
    adds = [
        path("choices", place, "options", number, "add")
        for place, choice in enumerate(choices)
        for number, option in enumerate(choice.options)
        if option.add
    ]
    if not adds:
        return
    inner: price.Price = of.read()
    if not inner.takes_adds:
        raise wrong("adds_not_taken", at or adds[0])
    least = options.least_addition(choice.read() for choice in choices)
    units = [unit for unit in inner.unit_prices() if unit is not None]
    if least and units and (min(units) + least).minor < 0:
        raise wrong("unit_below_zero", at or "choices")
