"""The answers to the seller's own questions. Which answers can be taken is the core's to say."""

from __future__ import annotations

from typing import Any

from django import forms

from cravik.checkout.parts.base import OrderPart, Submitted, one_of, texts_of
from cravik.core.link.questions import (
    DayQuestion,
    LongTextQuestion,
    NumberQuestion,
    OneOfQuestion,
    Question,
    SeveralOfQuestion,
    YesNoQuestion,
    check_answers,
)
from cravik.core.text.faults import fault_words


class AnswersPart(OrderPart):
    name = "answers"
    template = "checkout/parts/answers.html"
    may_go = ("*",)
    step = "Your questions"

    def add_fields(self) -> None:
        for question in self.offered.version.content.questions:
            self.fields[f"answer.{question.key}"] = _field(question)

    def clean(self) -> dict[str, Any]:
        questions = self.offered.version.content.questions
        sent = {question.key: texts_of(self.data, f"answer.{question.key}") for question in questions}
        checked = check_answers(questions, {key: values[:100] for key, values in sent.items() if values})
        for fault in checked.faults:
            self.add_error(f"answer.{fault.at}", forms.ValidationError(fault_words(fault), code=fault.code))
        self.cleaned = checked.answers
        return super().clean() or {}

    def submit(self, to: Submitted) -> None:
        to.answers += [
            {"key": question.key, "label": question.label, "answer": self.cleaned[question.key]}
            for question in self.offered.version.content.questions
            if question.key in self.cleaned
        ]


def _field(question: Question) -> forms.Field:
    help_text = question.help or ("" if question.required else "Optional.")
    match question:
        case OneOfQuestion(options=options):
            return one_of(question.label, [(option, option) for option in options], help_text)
        case YesNoQuestion():
            return one_of(question.label, [("yes", "Yes"), ("no", "No")], help_text)
        case SeveralOfQuestion(options=options):
            pairs = [(option, option) for option in options]
            widget: forms.Widget = forms.CheckboxSelectMultiple(choices=pairs)
            return _AnyOf(label=question.label, required=False, help_text=help_text, widget=widget)
        case LongTextQuestion():
            widget = forms.Textarea(attrs={"rows": 4})
        case NumberQuestion():
            widget = forms.TextInput(attrs={"inputmode": "decimal", "autocomplete": "off", "class": "is-short"})
        case DayQuestion():
            widget = forms.DateInput(attrs={"type": "date"})
        case _:
            widget = forms.TextInput()
    return forms.CharField(label=question.label, required=False, help_text=help_text, widget=widget)


class _AnyOf(forms.Field):
    """Several of a list; which can be had is the core's to say."""
