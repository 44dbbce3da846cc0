"""Numbers in forms, refused in the house's own words: what cannot be, and what can."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from django import forms
from django.core.validators import BaseValidator
from django.http import QueryDict

__all__ = ["DecimalComma", "WholeNumber", "tidy_number"]


def _say_range(field: forms.IntegerField, unit: str) -> None:
    """What is said of a number outside its field's range, or of what is no number."""
    low, high = field.min_value, field.max_value
    expected = "" if low is None or high is None else f" Expected {low:g} to {high:g} {unit}".rstrip() + "."
    for validator in field.validators:
        if isinstance(validator, BaseValidator):
            shown = f" {unit}".rstrip() + f" cannot be.{expected}"
            validator.message = "%(show_value)g" + shown.replace("%", "%%")  # it is filled in, the unit may be %
    kind = "number" if isinstance(field, forms.FloatField) else "whole number"
    field.error_messages["invalid"] = f"This is no {kind}.{expected}"


def offer(form: forms.Form, name: str, choices: Sequence[tuple[str, str]]) -> None:
    """Set what may be chosen in a field."""
    field = form.fields[name]
    assert isinstance(field, forms.ChoiceField)
    field.choices = choices


def choices_of(form: forms.Form, name: str) -> list[tuple[str, str]]:
    """What may be chosen in a field."""
    field = form.fields[name]
    assert isinstance(field, forms.ChoiceField)
    return list(field.choices)  # type: ignore[arg-type]


def at_version(form: forms.Form, version: int) -> None:
    """What was sent, to be sent again at the version of now."""
    assert isinstance(form.data, QueryDict)
    data = form.data.copy()
    data["version"] = str(version)
    form.data = data


class DecimalComma(forms.FloatField):
    """A number; a comma counts as the point, a trailing unit is forgiven."""

    widget = forms.TextInput(attrs={"inputmode": "decimal", "autocomplete": "off"})

    def __init__(self, *, unit: str, **options: Any) -> None:
        self.unit = unit
        super().__init__(**options)
        _say_range(self, unit)

    def to_python(self, value: object) -> float | None:  # type: ignore[override]  # a float, whatever its base
        if isinstance(value, str):
            value = value.strip().removesuffix(self.unit).strip().replace(",", ".")
        return super().to_python(value)


class WholeNumber(forms.IntegerField):
    """A whole number within a range."""

    def __init__(self, **options: Any) -> None:
        super().__init__(**options)
        _say_range(self, "")


def tidy_number(value: float | None) -> str:
    """A stored number as it is shown in a form."""
    return "" if value is None else f"{value:g}"
