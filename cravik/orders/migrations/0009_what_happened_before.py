"""Events of what happened before there were any, as far as other tables tell it."""

from typing import Any

from django.db import migrations

#: (instant, kind, fields, who, about)
_Row = tuple[Any, str, dict[str, Any], dict[str, Any], dict[str, Any]]

_SELLER = {"by": "member"}
_CLOCK = {"by": "clock"}
_BUYER = {"by": "buyer"}


def _who(user: Any) -> dict[str, Any]:
    return _SELLER | {"user_id": user.pk, "by_name": user.name or user.email} if user else _SELLER


def _of_links(apps: Any) -> list[_Row]:
    rows: list[_Row] = []
    for link in apps.get_model("links", "Link").objects.select_related("copied_from").iterator():
        about = {"business_id": link.business_id, "link_id": link.pk}
        rows.append((link.made_at, "link.made", {"copy_of": link.copied_from.name if link.copied_from else ""}, _SELLER, about))
        if link.state == "paused":
            rows.append((link.state_since, "link.paused", {}, _SELLER, about))
        if link.state == "ended":
            by = _CLOCK if link.ended_why == "day" else _BUYER if link.ended_why == "count" else _SELLER
            rows.append((link.state_since, "link.ended", {"why": link.ended_why}, by, about))
        if link.put_away_at:
            rows.append((link.put_away_at, "link.archived", {}, _SELLER, about))
        if link.removed_at:
            rows.append((link.removed_at, "link.removed", {"name": link.name}, _SELLER, about))
    editions = apps.get_model("links", "Edition").objects.exclude(number=None).select_related("link", "published_by")
    for edition in editions.defer("document", "effective").iterator():
        about = {"business_id": edition.link.business_id, "link_id": edition.link_id}
        who = _who(edition.published_by)
        rows.append((edition.published_at, "link.published", {"version": edition.number}, who, about))
    return rows


def _of_spots(apps: Any) -> list[_Row]:
    rows: list[_Row] = []
    for spot in apps.get_model("links", "Spot").objects.filter(is_first=False).select_related("link").iterator():
        about = {"business_id": spot.link.business_id, "link_id": spot.link_id, "spot_id": spot.pk}
        rows.append((spot.made_at, "spot.made", {"name": spot.name}, _SELLER, about))
        if spot.ended_at:
            rows.append((spot.ended_at, "spot.ended", {"name": spot.name}, _SELLER, about))
    moves = apps.get_model("links", "SpotMove").objects.select_related("spot", "left", "joined", "by")
    for move in moves.iterator():
        away, here = {"name": move.spot.name, "joined": move.joined.name}, {"name": move.spot.name, "left": move.left.name}
        about = {"business_id": move.left.business_id, "spot_id": move.spot_id}
        rows.append((move.at, "spot.moved_away", away, _who(move.by), about | {"link_id": move.left_id}))
        rows.append((move.at, "spot.moved_here", here, _who(move.by), about | {"link_id": move.joined_id}))
    return rows


def _of_orders(apps: Any) -> list[_Row]:
    rows: list[_Row] = []
    paid = apps.get_model("payments", "Due").objects.filter(state="paid", movements__isnull=False).distinct()
    dues: dict[int, list[Any]] = {}
    for due in paid.order_by("position").iterator():
        dues.setdefault(due.checkout_id, []).append(due)
    for order in apps.get_model("orders", "Order").objects.order_by("id").iterator():
        about = {"business_id": order.business_id, "order_id": order.pk, "link_id": order.link_id}
        about |= {"spot_id": order.spot_id, "rehearsal": order.rehearsal}
        rows.append((order.paid_at, "order.made", {"number": order.number}, _BUYER, about))
        for due in dues.get(order.checkout_id, []):
            data = {"minor": due.amount_minor, "currency": due.currency, "position": due.position}
            rows.append((due.paid_at, "due.paid", data, _BUYER, about))
    return rows


def write_events(apps: Any, schema_editor: Any) -> None:
    event = apps.get_model("events", "Event")
    rows = [*_of_links(apps), *_of_spots(apps), *_of_orders(apps)]
    rows.sort(key=lambda row: row[0])
    event.objects.bulk_create(
        (event(at=at, kind=kind, data=data, **who, **about) for at, kind, data, who, about in rows), batch_size=2000
    )


class Migration(migrations.Migration):
    dependencies = [
        ("orders", "0008_pieces"),
        ("events", "0001_initial"),
        ("links", "0016_main_link"),
        ("payments", "0005_pieces"),
        ("setup", "0005_roles"),
    ]
    operations = [migrations.RunPython(write_events, migrations.RunPython.noop)]
