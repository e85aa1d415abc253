"""What holds for the whole order: codes, delivery, tax, the fee, and the days it can be bought."""

from __future__ import annotations

from typing import Annotated, Literal, Self

from pydantic import Field, field_validator, model_validator

from cravik.core.documents.parts import (
    MAX_LINES,
    MAX_ROWS,
    Amount,
    Anywhere,
    Country,
    Day,
    DocumentPart,
    Grams,
    Instant,
    Name,
    Percentage,
    Slug,
    ascending,
    wrong,
)
from cravik.core.pricing import delivery, discounts, fees, offer, tax
from cravik.core.pricing.percent import WHOLE


class _CodeDocument(DocumentPart):
    code: Name
    lines: Annotated[list[Slug], Field(max_length=MAX_LINES)] | None = None
    starts_on: Day | None = None
    ends_on: Day | None = None
    minimum: Amount | None = None


class PercentCodeDocument(_CodeDocument):
    reads = discounts.PercentCode

    kind: Literal["percent"]
    percent: Percentage


class AmountCodeDocument(_CodeDocument):
    reads = discounts.AmountCode

    kind: Literal["amount"]
    amount: Amount


class UnitPriceCodeDocument(_CodeDocument):
    reads = discounts.UnitPriceCode

    kind: Literal["unit_price"]
    line: Slug
    unit: Amount


class FreeDeliveryCodeDocument(_CodeDocument):
    reads = discounts.FreeDeliveryCode

    kind: Literal["free_delivery"]


CodeDocument = Annotated[
    PercentCodeDocument | AmountCodeDocument | UnitPriceCodeDocument | FreeDeliveryCodeDocument,
    Field(discriminator="kind"),
]


class FlatChargeDocument(DocumentPart):
    reads = delivery.FlatCharge

    kind: Literal["flat"]
    amount: Amount


class PerItemChargeDocument(DocumentPart):
    reads = delivery.PerItemCharge

    kind: Literal["per_item"]
    first: Amount
    next: Amount


class ValueBandDocument(DocumentPart):
    reads = delivery.ValueBand

    from_: Annotated[Amount, Field(alias="from")]
    amount: Amount


class ByValueDocument(DocumentPart):
    reads = delivery.ByValue

    kind: Literal["by_value"]
    bands: Annotated[list[ValueBandDocument], Field(min_length=1, max_length=MAX_ROWS)]

    @field_validator("bands")
    @classmethod
    def _bands_ascend(cls, bands: list[ValueBandDocument]) -> list[ValueBandDocument]:
        if all(band.from_ is not None for band in bands):
            ascending("from", 0, [band.from_.minor for band in bands])
        return bands


class WeightBandDocument(DocumentPart):
    reads = delivery.WeightBand

    from_g: Grams
    amount: Amount


class ByWeightDocument(DocumentPart):
    reads = delivery.ByWeight

    kind: Literal["by_weight"]
    bands: Annotated[list[WeightBandDocument], Field(min_length=1, max_length=MAX_ROWS)]
    most_g: Grams | None = None

    @field_validator("bands")
    @classmethod
    def _bands_ascend(cls, bands: list[WeightBandDocument]) -> list[WeightBandDocument]:
        ascending("from_g", 0, [band.from_g for band in bands])
        return bands


class PercentChargeDocument(DocumentPart):
    reads = delivery.PercentCharge

    kind: Literal["percent"]
    percent: Percentage


ChargeDocument = Annotated[
    FlatChargeDocument | PerItemChargeDocument | ByValueDocument | ByWeightDocument | PercentChargeDocument,
    Field(discriminator="kind"),
]


class ZoneDocument(DocumentPart):
    reads = delivery.Zone

    name: Name
    countries: Annotated[list[Anywhere], Field(min_length=1, max_length=300)]
    charge: ChargeDocument
    free_from: Amount | None = None


class DeliveryDocument(DocumentPart):
    reads = delivery.Delivery

    zones: Annotated[list[ZoneDocument], Field(min_length=1, max_length=MAX_ROWS)]


class TaxRateDocument(DocumentPart):
    reads = tax.TaxRate

    country: Country
    region: Name | None = None
    name: Name
    percent: Percentage
    categories: Annotated[list[Name], Field(min_length=1, max_length=MAX_ROWS)] = [tax.STANDARD]
    reverse_charge: bool = False


class TaxDocument(DocumentPart):
    reads = tax.TaxRules

    seller_country: Country
    prices_include_tax: bool = False
    rates: Annotated[list[TaxRateDocument], Field(max_length=1000)]


class FeeDocument(DocumentPart):
    reads = fees.Fee

    percent: Percentage
    fixed: Amount
    buyer_may_cover: bool = False

    @model_validator(mode="after")
    def _leaves_something(self) -> Self:
        if self.buyer_may_cover and self.percent.ten_thousandths == WHOLE:
            raise wrong("fee_of_everything", "percent")
        return self


class WindowDocument(DocumentPart):
    reads = offer.Window

    opens_at: Instant | None = None
    closes_at: Instant | None = None
