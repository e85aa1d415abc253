"""Paying as a buyer's browser does: open the page, send its form back."""

from __future__ import annotations

import re
import secrets
from datetime import datetime
from typing import Any

from django.http import HttpResponse
from django.test import Client
from django.utils import timezone

from cravik.core.pricing.money import Money
from cravik.links.models import Link
from cravik.orders.models import Order
from cravik.orders.refunding import RefundWish, refund_order
from cravik.payments.models import Refund
from cravik.payments.ways import present_ways
from tests.factories import BROWSER, BY
from tests.page_fields import picked_in

APPROVES = "9000000000000019"
APPROVES_TOO = "9000000000000118"
NO_FUNDS = "9000000000001017"
FALLS_SILENT = "9000000000002023"
NEVER = "9000000000003039"


def open_page(client: Client, link: Link, **headers: str) -> dict[str, str]:
    """Open the live page and return its form, filled in by a buyer who is approved."""
    answer = client.get(link.path, headers={"user-agent": BROWSER} | headers)
    return filled_in(answer)


POSTCODES = {"IE": "F91 X2A4", "FR": "22310", "DE": "26133", "GB": "EC1Y 8SY", "CA": "V3N 3H5", "NZ": "6001"}


def filled_in(answer: HttpResponse, **changes: str) -> dict[str, str]:
    page = answer.content.decode()
    token = re.search(r'name="page" value="([^"]+)"', page)
    assert token, f"no form on the page: {answer.status_code}"
    return (
        where_in(page)
        | picked_in(page)
        | {
            "page": token[1],
            "name": "Maren Saltmarsh",
            "email": "maren@dunes.example",
            "card_number": APPROVES,
            "expiry": "09/31",
            "security_code": "123",
            **({"agree": "yes"} if 'name="agree"' in page else {}),
        }
        | changes
    )


def where_in(page: str) -> dict[str, str]:
    """What the page asks about where the buyer is, filled in as it supposes them to be."""
    country = re.search(r'<option value="(\w\w)" selected', page)
    if 'name="country"' not in page or country is None:
        return {}
    return {"country": country[1]} | (address_in(country[1]) if 'name="street"' in page else {})


def address_in(country: str) -> dict[str, str]:
    """An address with a postcode such as the country has them."""
    return {"street": "2 Strand Lane", "postcode": POSTCODES.get(country, ""), "town": "Marramport"}


def send(client: Client, link: Link, form: dict[str, str], **headers: str) -> Any:
    """What the press is answered with. Where it did not go through, the page that a browser is led to."""
    answer = client.post(f"{link.path}pay/", form, headers={"user-agent": BROWSER} | headers)
    return client.get(answer["Location"]) if "/again/" in answer.get("Location", "") else answer


def paid_path(answer: Any) -> str:
    """Which confirmation an answer leads to."""
    return str(answer["Location"].partition("?")[0])


def pay_live(client: Client, link: Link, **changes: str) -> Any:
    return send(client, link, open_page(client, link) | changes)


def pay_as_it_comes(client: Client, link: Link, **typed: str) -> Any:
    """Pay with what was typed; another sum than the opened page's is shown first, and agreed to."""
    answer = send(client, link, open_page(client, link) | typed)
    return send(client, link, filled_in(answer, **typed)) if answer.status_code == 409 else answer


def give_back(order: Order, amount: str, at: datetime | None = None) -> Refund:
    """Refund so much of the order, which was paid by one charge."""
    money = Money.parse(amount, order.currency)
    return refund_order(
        order, RefundWish(money), secrets.token_hex(8), present_ways(), (lambda: at) if at else timezone.now, by=BY
    )
