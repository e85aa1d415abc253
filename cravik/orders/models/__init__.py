"""Orders, their documents, and what a seller decided of both."""

from cravik.orders.models.issued import DocumentDesk, DocumentKind, IssuedDocument, NumberSeries, OrderSettings
from cravik.orders.models.order import (
    MAX_LETTER_TRIES,
    PARTS,
    Download,
    MoneySum,
    Order,
    OrderBook,
    OrderQuerySet,
    Parcel,
    Stage,
    TickedLine,
)
from cravik.orders.models.purchases import PurchasesKey, Wish

__all__ = [
    "MAX_LETTER_TRIES",
    "PARTS",
    "DocumentDesk",
    "DocumentKind",
    "Download",
    "IssuedDocument",
    "MoneySum",
    "NumberSeries",
    "Order",
    "OrderBook",
    "OrderQuerySet",
    "OrderSettings",
    "Parcel",
    "PurchasesKey",
    "Stage",
    "TickedLine",
    "Wish",
]
