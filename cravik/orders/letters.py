"""The letters about an order: the buyer's receipt and the seller's notice. And the one about stock."""

from __future__ import annotations

from dataclasses import replace

from django.template.defaultfilters import filesizeformat
from django.utils import timezone
from django.utils.formats import date_format
from django.utils.html import format_html, format_html_join
from django.utils.safestring import mark_safe

from cravik.catalogue.models import Variant
from cravik.catalogue.stock import full_name
from cravik.checkout.models import Checkout
from cravik.core.pricing.money import Money
from cravik.core.pricing.quote import Quote
from cravik.core.text.money_text import format_money, format_money_clearly
from cravik.core.text.slip import kept_rows, slip_rows, total_words
from cravik.links.life.shown_version import shown_version
from cravik.mailroom.services import OutgoingLetter
from cravik.orders.after_paying import what_follows
from cravik.orders.exports import answer_words
from cravik.orders.invoicing.enclosing import documents_block
from cravik.orders.models import Order
from cravik.orders.own_page import mailed_path, mailed_payments_path
from cravik.orders.to_members import letters_to_members
from cravik.payments.models import Agreement
from cravik.payments.ways.card import card_ending
from cravik.people.models import Business
from cravik.setup.contact import seller_lines
from cravik.setup.hosts import address_of
from cravik.setup.messages.filling import Block, Values, WebAddress
from cravik.setup.messages.kinds import RECEIPT, SALE_NOTICE, STOCK_LOW
from cravik.setup.messages.message import Words
from cravik.setup.messages.wording import compose, words_for_nothing_paid, words_of
from cravik.ui.addresses import absolute


def letters_about(order: Order) -> list[OutgoingLetter]:
    """The buyer's receipt and a notice to every member. Days are those of the business's time zone."""
    business = order.business
    wording = words_of if order.was_paid else words_for_nothing_paid
    with timezone.override(business.time_zone):
        for_buyer, for_seller = receipt_values(order), notice_values(order)
    receipt = compose(
        RECEIPT,
        _with(wording(business, RECEIPT.kind), "what_follows", "answers", "agreed", "documents", "seller"),
        for_buyer,
        look=shown_version(order.version_id).look,
        rehearsal=order.rehearsal,
    )
    notice_words = _with(wording(business, SALE_NOTICE.kind), "answers")
    notice = compose(SALE_NOTICE, notice_words, for_seller, rehearsal=order.rehearsal)
    to_buyer = OutgoingLetter(
        kind=RECEIPT.kind,
        occasion=f"order-{order.pk}",
        to_name=order.buyer_name,
        to_address=order.buyer_email,
        **vars(receipt),
        reply_to=order.checkout.contact["support_email"],
        rehearsal=order.rehearsal,
        order_id=order.pk,
        enclosed=tuple(each.pk for each in order.documents.all()),
    )
    to_members = letters_to_members(
        business,
        SALE_NOTICE,
        f"order-{order.pk}",
        notice,
        reply_to=order.buyer_email,
        rehearsal=order.rehearsal,
        order_id=order.pk,
    )
    return [to_buyer, *to_members]


def _with(words: Words, *names: str) -> Words:
    """The wording; what its seller's own leaves out of what must not be missing stands at the end."""
    missing = [f"{{{name}}}" for name in names if f"{{{name}}}" not in words.body]
    return replace(words, body="\n\n".join([words.body, *missing]))


def receipt_values(order: Order) -> Values:
    """What the placeholders of the buyer's receipt stand for: nothing that is the seller's alone is among them."""
    checkout = order.checkout
    return {
        **_values_of_both(order),
        "card_ending": card_ending(order.attempt) if order.attempt else "",
        "statement": checkout.contact["statement_text"],
        "receipt_address": WebAddress(address_of(checkout.business_id, mailed_path(checkout.reference))),
        "contact": checkout.contact["support_email"],
        "what_follows": what_follows(order),
        "goods": goods_of(order),
        "terms": _terms(checkout),
        "agreed": _agreed(checkout),
        "documents": documents_block(order, list(order.documents.all())),
        "seller": _seller(order.business),
    }


def notice_values(order: Order) -> Values:
    """What the placeholders of the seller's notice stand for."""
    kept = [("total" if row.kind == "left" else "", row.words, row.amount) for row in kept_rows(order.checkout.quote)]
    return {
        **_values_of_both(order),
        "buyer_email": order.buyer_email,
        "link": order.link.name,
        "kept": _table(kept),
        "order_address": WebAddress(absolute(order.path)),
    }


def _values_of_both(order: Order) -> Values:
    """What buyer and seller are told alike."""
    checkout = order.checkout
    return {
        "buyer": order.buyer_name,
        "business": order.business.name,
        "thing": order.title,
        "amount": format_money_clearly(order.paid),
        "amount_in_words": format_money_clearly(order.paid),
        "slip": _slip(checkout.quote),
        "paid_on": date_format(timezone.localtime(order.paid_at or order.made_at), "j M Y"),
        "order": str(order).capitalize(),
        "reference": checkout.reference,
        "answers": _answers(checkout),
        "sent_to": sent_to(checkout),
    }


def _slip(quoted: Quote) -> Block:
    rows = slip_rows(quoted)
    above = [
        ("", f"{row.words} ({row.detail})" if row.detail else row.words, row.amount)
        for row in rows
        if row.kind != "within"
    ]
    within = [("within", f"of which {row.words}", row.amount) for row in rows if row.kind == "within"]
    if not quoted.schedule:
        return _table([*above, ("total", "Paid", quoted.total), *within])
    later = [("", f"on {date_format(payment.on, 'j M Y')}", payment.amount) for payment in quoted.schedule]
    return _table(
        [
            *above,
            ("", total_words(quoted, "Paid"), quoted.total),
            *within,
            ("total", "Paid now", quoted.due_now),
            *later,
        ]
    )


def _table(rows: list[tuple[str, str, Money]]) -> Block:
    wide = max(len(words) for _, words, _ in rows)
    text = "\n".join(f"  {words.ljust(wide)}  {format_money(amount)}" for _, words, amount in rows)
    cells = format_html_join(
        "",
        '<tr class="{}"><th scope="row">{}</th><td>{}</td></tr>',
        ((name, words, format_money(amount)) for name, words, amount in rows),
    )
    return Block(text, format_html("<table>{}</table>", cells))


def sent_to(checkout: Checkout) -> Block:
    """Where it is sent, for a letter."""
    lines = [line for line in checkout.address_lines if line]
    if not lines:
        return Block("", "")
    text = "It is sent to\n" + "\n".join(f"  {line}" for line in lines)
    return Block(text, format_html("<p>It is sent to<br>{}</p>", format_html_join("", "{}<br>", ((x,) for x in lines))))


def _seller(business: Business) -> Block:
    """Who sells, as a receipt with tax has to say; nothing until they gave more than a name."""
    lines = seller_lines(business)
    html = format_html("<p>{}</p>", format_html_join(mark_safe("<br>"), "{}", ((line,) for line in lines)))
    return Block("\n".join(lines), html) if lines else Block("", "")


def _answers(checkout: Checkout) -> Block:
    """What the buyer answered, in the order of the page, under the labels that they were shown."""
    answered = [(each["label"], answer_words(each["answer"])) for each in checkout.answers]
    if not answered:
        return Block("", "")
    text = "\n".join(f"  {label}: {answer}" for label, answer in answered)
    rows = format_html_join("", '<tr><th scope="row">{}</th><td>{}</td></tr>', answered)
    return Block(text, format_html("<table>{}</table>", rows))


def goods_of(order: Order) -> Block:
    """The access code, and where the files are taken: the receipt's page, which counts nothing by itself. What is not
    there yet is said to come."""
    text, html = [], []
    for code in order.access_codes:
        text.append(f"Your access code: {code}")
        html.append(format_html("<p>Your access code: <strong>{}</strong></p>", code))
    files = [(download.file.title, filesizeformat(download.file.size)) for download in order.downloads.all()]
    if files:
        page = address_of(order.business_id, mailed_path(order.checkout.reference))
        text.append(
            "Your files:\n" + "\n".join(f"  {title} ({size})" for title, size in files) + f"\nTake them at {page}"
        )
        rows = format_html_join("", "<li>{} ({})</li>", files)
        html.append(format_html('<p>Your files:</p><ul>{}</ul><p><a href="{}">Take them here</a></p>', rows, page))
    if not text and order.awaits_files:
        words = "Your file is not there yet. You get it by e-mail as soon as it is."
        return Block(words, format_html("<p>{}</p>", words))
    return Block("\n\n".join(text), mark_safe("".join(html)))  # noqa: S308  # each part was escaped


def _terms(checkout: Checkout) -> Block:
    agreed = checkout.agreed_to
    if agreed is None:
        return Block("", "")
    address, name = address_of(checkout.business_id, agreed.path), agreed.terms.name
    html = format_html('<p>You agreed to the <a href="{}">{}</a>.</p>', address, name)
    return Block(f"You agreed to the {name}: {address}", html)


def _agreed(checkout: Checkout) -> Block:
    """What will be taken later, in the words of the page, and where it is changed."""
    agreement = Agreement.objects.filter(checkout=checkout).first()
    if agreement is None:
        return Block("", "")
    address = address_of(checkout.business_id, mailed_payments_path(checkout.reference))
    html = format_html('<p>You agreed to this: {} <a href="{}">Your payments</a></p>', agreement.words, address)
    return Block(f"You agreed to this: {agreement.words}\nYour payments: {address}", html)


def letters_about_stock(low: Variant, checkout: Checkout) -> list[OutgoingLetter]:
    """To every member: that an item has come down to the level at which they wanted to be told."""
    business = checkout.business
    sold_out = "When none is left, its links say that it is sold out."
    values: Values = {
        "item": full_name(low),
        "count": str(low.count),
        "level": str(low.tell_at),
        "what_then": "It goes on selling when none is left." if low.sells_beyond else sold_out,
        "stock_address": WebAddress(absolute(f"{low.item.path}stock/")),
        "business": business.name,
    }
    composed = compose(STOCK_LOW, words_of(business, STOCK_LOW.kind), values)
    return letters_to_members(business, STOCK_LOW, f"variant-{low.pk}-checkout-{checkout.pk}", composed)
