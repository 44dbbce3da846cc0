"""What somebody measured of how a vehicle watches its lamps; what stays empty is assumed."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from django import forms

from electrics.reference.habits import habits
from hailstone.shop.fields import DecimalComma
from hailstone.wording.habits import HABITS

__all__ = ["HabitsForm"]


WATCHED = [("", "not known: turn lamps"), ("0", "turn lamps only"), ("1", "stop and tail lamps as well")]


class HabitsForm(forms.Form):
    """A field for each habit, in the unit that people use; empty ones say what is assumed."""

    def __init__(self, data: Mapping[str, Any] | None, stated: Mapping[str, float], scale: float) -> None:
        super().__init__(data)
        for row in habits():
            words, factor = HABITS[row.id], scale if row.unit == "ohm" else 1.0
            if not row.unit:
                self.fields[row.id] = forms.TypedChoiceField(
                    label=words.label,
                    required=False,
                    choices=WATCHED,
                    coerce=float,
                    empty_value=None,
                    initial=f"{stated[row.id]:g}" if row.id in stated else "",
                    widget=forms.Select(attrs={"class": "form-select"}),
                )
                continue
            self.fields[row.id] = DecimalComma(
                label=words.label,
                unit=words.unit,
                required=False,
                min_value=words.factor * row.least,
                max_value=words.factor * row.most,
                help_text=f"Usually {words.shown(factor * row.low)} to {words.told(factor * row.high)}.",
                initial=words.shown(stated[row.id]) if row.id in stated else None,
                widget=forms.TextInput(
                    attrs={
                        "class": "form-control",
                        "inputmode": "decimal",
                        "placeholder": words.shown(factor * row.usual) if row.usual else "no limit assumed",
                    }
                ),
            )

    def stated(self) -> dict[str, float]:
        """What was said, in the units that are kept."""
        return {id: value / HABITS[id].factor for id, value in self.cleaned_data.items() if value is not None}
