"""Numbers in forms, refused in the house's own words: what cannot be, and what can."""

from __future__ import annotations

from typing import Any

from django import forms

__all__ = ["DecimalComma", "WholeNumber", "tidy_number"]


def _say_range(field: forms.IntegerField, unit: str) -> None:
    """What is said of a number outside its field's range, or of what is no number."""
    low, high = field.min_value, field.max_value
    expected = "" if low is None or high is None else f" Expected {low:g} to {high:g} {unit}".rstrip() + "."
    for validator in field.validators:
        if hasattr(validator, "limit_value"):
            shown = f" {unit}".rstrip() + f" cannot be.{expected}"
            validator.message = "%(show_value)g" + shown.replace("%", "%%")  # it is filled in, the unit may be %
    kind = "number" if isinstance(field, forms.FloatField) else "whole number"
    field.error_messages["invalid"] = f"This is no {kind}.{expected}"


class DecimalComma(forms.FloatField):
    """A number; a comma counts as the point, a trailing unit is forgiven."""

    widget = forms.TextInput(attrs={"inputmode": "decimal", "autocomplete": "off"})

    def __init__(self, *, unit: str, **options: Any) -> None:
        self.unit = unit
        super().__init__(**options)
        _say_range(self, unit)

    def to_python(self, value: object) -> float | None:
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
