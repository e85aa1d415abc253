"""What a seller decides of documents and refunds, as forms."""

from __future__ import annotations

from datetime import datetime
from zoneinfo import ZoneInfo

from django import forms
from django.db import transaction

from cravik.core.errors import PrefixRefused
from cravik.core.invoicing.numbers import MAX_NUMBER, MAX_PREFIX, label_of, parse_prefix
from cravik.core.pricing.document_cost import DocumentCost
from cravik.core.pricing.money import Money
from cravik.core.pricing.percent import Percent
from cravik.core.text.faults import fault_words
from cravik.orders.invoicing.series import SeriesDraft, SeriesRefused, change_series, series_of, stem_of_series
from cravik.orders.models import DocumentKind, OrderSettings
from cravik.people.actors import Actor
from cravik.people.models import Business
from cravik.setup.happened import record
from cravik.setup.saving import ChangedElsewhere
from cravik.ui.fields import AmountField, LineField, PercentField, TextAreaField, clean_amount

#: So many extra fields a document has at most.
MAX_FIELDS = 6


class DocumentsForm(forms.Form):
    """All but the numbers."""

    invoices = forms.ChoiceField(
        label="Invoices", choices=OrderSettings.Invoices.choices, help_text="Every payment has a receipt in any case."
    )
    shows_quantities = forms.BooleanField(label="Show how many pieces", required=False)
    note = LineField(
        label="A sentence on every document",
        longest=300,
        missing="",
        required=False,
        help_text="Such as why no tax is charged, where your tax office asks for it.",
    )
    fields_text = TextAreaField(
        label="Extra lines",
        longest=600,
        required=False,
        help_text=f"One a line, with a colon: “Register: Marramport 4711”. {MAX_FIELDS} at most.",
        widget=forms.Textarea(attrs={"rows": 3}),
    )
    cost_percent = PercentField(label="Per cent of the total", required=False)
    cost_fixed = AmountField(label="And a fixed sum")
    cost_most = AmountField(label="At most")
    fee_comes_back = forms.BooleanField(label="The processor gives its fee back with a refund", required=False)

    def __init__(self, business: Business, settings: OrderSettings, data: object = None) -> None:
        self.business, self.currency = business, business.currency
        most = settings.cost_most_minor
        super().__init__(
            data,  # type: ignore[arg-type]  # what was sent, or nothing
            initial={
                "invoices": settings.invoices,
                "shows_quantities": settings.shows_quantities,
                "note": settings.note,
                "fields_text": "\n".join(f"{label}: {value}" for label, value in settings.fields),
                "cost_percent": settings.cost_percent,
                "cost_fixed": self._major(settings.cost_fixed_minor) if settings.cost_fixed_minor else "",
                "cost_most": "" if most is None else self._major(most),
                "fee_comes_back": settings.fee_comes_back,
            },
        )

    def _major(self, minor: int) -> str:
        return Money(minor, self.currency).major

    def clean_fields_text(self) -> list[list[str]]:
        lines = [line for line in str(self.cleaned_data["fields_text"]).split("\n") if line.strip()]
        fields = [[part.strip() for part in line.partition(":")[::2]] for line in lines]
        if wrong := next(
            (line for line, (label, value) in zip(lines, fields, strict=True) if not (label and value)), ""
        ):
            raise forms.ValidationError(f"“{wrong}” needs a colon between its name and what it says.")
        if len(fields) > MAX_FIELDS:
            raise forms.ValidationError(f"{MAX_FIELDS} lines at most; these are {len(fields)}.")
        return fields

    def clean(self) -> None:
        for name in ("cost_fixed", "cost_most"):
            if (self.cleaned_data.get(name) or "").strip():
                amount = clean_amount(self, name, self.currency, "")
                self.cleaned_data[name] = amount.minor if amount is not None else None
            else:
                self.cleaned_data[name] = None

    def decide(self, settings: OrderSettings) -> None:
        """Write what was decided into the row, of a form that is valid."""
        data = self.cleaned_data
        settings.invoices, settings.note = data["invoices"], data["note"]
        settings.shows_quantities, settings.fee_comes_back = data["shows_quantities"], data["fee_comes_back"]
        settings.fields = data["fields_text"]
        percent: Percent | None = data["cost_percent"]
        settings.cost_percent = percent.text if percent else ""
        settings.cost_fixed_minor, settings.cost_most_minor = data["cost_fixed"] or 0, data["cost_most"]


class SeriesForm(forms.Form):
    """How documents of one kind are numbered from now on."""

    starts = forms.CharField(label="Prefix", required=False, max_length=MAX_PREFIX + 20)
    with_year = forms.BooleanField(label="Include the year, and start again from 1 each year", required=False)
    next_number = forms.IntegerField(
        label="Next number",
        show_hidden_initial=True,  # so that a number given since the page was opened is no change of the seller's
        min_value=1,
        max_value=MAX_NUMBER,
        error_messages={
            "required": "Write the next number.",
            "invalid": "Write a whole number.",
            "min_value": "The first number is 1.",
            "max_value": f"The most is {MAX_NUMBER:,}.",
        },
        widget=forms.NumberInput(attrs={"inputmode": "numeric"}),
    )

    def __init__(self, business: Business, kind: str, year: int, data: object = None) -> None:
        series = series_of(business.pk, kind, year)
        self.kind, self.title = kind, f"{DocumentKind(kind).label}s"
        self.example = label_of(stem_of_series(series), series.last_number + 1)
        super().__init__(
            data,  # type: ignore[arg-type]  # what was sent, or nothing
            prefix=kind,
            initial={
                "starts": series.prefix,
                "with_year": series.with_year,
                "next_number": series.last_number + 1,
            },
        )

    def clean_starts(self) -> str:
        try:
            return parse_prefix(str(self.cleaned_data["starts"]))
        except PrefixRefused as refused:
            raise forms.ValidationError(fault_words(refused.faults[0])) from None

    @property
    def draft(self) -> SeriesDraft:
        """As it was typed; a next number that was left as it stood goes on with the series."""
        data = self.cleaned_data
        typed = data["next_number"] if "next_number" in self.changed_data else self.initial["next_number"]
        return SeriesDraft(self.kind, data["starts"], data["with_year"], typed)


def year_of(business: Business, now: datetime) -> int:
    return now.astimezone(ZoneInfo(business.time_zone)).year


@transaction.atomic
def save_settings(form: DocumentsForm, series: list[SeriesForm], seen: int, now: datetime, *, by: Actor) -> None:
    """Save all of it, or nothing. Raises ``ChangedElsewhere`` and ``SeriesRefused``."""
    business = form.business
    settings, _ = OrderSettings.objects.select_for_update().get_or_create(business=business)
    if settings.revision != seen:
        raise ChangedElsewhere
    change_series(business.pk, [each.draft for each in series], year_of(business, now))
    form.decide(settings)
    settings.revision, settings.changed_at = seen + 1, now
    settings.save()
    record(business.pk, "documents", "Documents", now, by)


def cost_of(settings: OrderSettings, currency: str) -> DocumentCost | None:
    """What an invoice costs, where the seller said so."""
    if not (settings.cost_percent or settings.cost_fixed_minor):
        return None
    most = None if settings.cost_most_minor is None else Money(settings.cost_most_minor, currency)
    return DocumentCost(Percent.parse(settings.cost_percent or "0"), Money(settings.cost_fixed_minor, currency), most)


def refuse(series: list[SeriesForm], refused: SeriesRefused) -> None:
    """Tell each reason at its series."""
    for fault in refused.faults:
        form = next(each for each in series if each.kind == fault.at)
        at = "starts" if fault.code == "series_meet" else "next_number"
        form.add_error(at, fault_words(fault, SeriesRefused.words))
