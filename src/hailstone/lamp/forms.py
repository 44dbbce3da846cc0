"""The lamp's leads and one trial, as forms."""

from __future__ import annotations

import re
from collections.abc import Sequence, Set
from typing import Any

from django import forms

from electrics.document.lamp import FIRST_FUSE_A, Light, Seen, Trial
from electrics.errors import FactError
from electrics.formats.colour import parse_colour
from electrics.identify.leads import MOST_LEADS, identify_leads
from hailstone.shop.fields import DecimalComma, offer
from hailstone.shop.renaming import followed, gone_field
from hailstone.wording.words import function_called, listed

LONGEST = 30


class LeadsForm(forms.Form):
    """One lead a line, by its colour or a mark, and what the chart says it's for: `white = ground`."""

    leads = forms.CharField(
        label="Leads, one per line: color or mark",
        help_text="Two of one color: mark them, for example black 1 and black 2. Got a chart? Add what it says: "
        "white = ground. It's only a hint; the tests decide.",
        widget=forms.Textarea(
            attrs={
                "class": "form-control",
                "rows": 5,
                "spellcheck": "false",
                "placeholder": "white\nblack\nred\nyellow/black",
            }
        ),
    )

    kind = forms.ChoiceField(
        label="Which of the things it is", required=False, widget=forms.Select(attrs={"class": "form-select"})
    )
    gone = gone_field("tried")

    def __init__(
        self,
        *args: Any,
        kinds: Sequence[tuple[str, str]] = (),
        listed_before: Sequence[str] = (),
        tried: Set[str] = frozenset(),
        **options: Any,
    ) -> None:
        """`kinds` are those of the job's things, id and name; `tried` are the leads that have trials."""
        super().__init__(*args, **options)
        self.before, self.tried = listed_before, tried
        offer(self, "kind", kinds)

    def clean(self) -> dict[str, Any]:
        """Trials go only where somebody says so; leads of other names keep theirs."""
        facts = super().clean() or {}
        if "leads" in facts:
            labels = [label for label, *_ in facts["leads"]]
            try:
                facts["renamed"] = followed(self.before, labels, self.tried, facts.get("gone", ""), _would_go)
            except forms.ValidationError as error:
                self.add_error("leads", error)
        return facts

    def clean_leads(self) -> list[tuple[str, str, str]]:
        lines = [line.strip() for line in re.split(r"[\n,;]", self.cleaned_data["leads"]) if line.strip()]
        leads = []
        for line, said in map(_said, lines):
            if len(line) > LONGEST:
                raise forms.ValidationError(f"“{line[:LONGEST]}...” is too long for the name of a lead.")
            parsed = parse_colour(line)
            leads.append((line, parsed.text if parsed.parts else "", said))
        try:
            identify_leads([label for label, *_ in leads], [])
        except FactError as error:
            raise forms.ValidationError(
                f"{error} A metal housing that serves as ground counts as a lead; call it housing. "
                f"More than {MOST_LEADS}: test the lamp in two halves."
            ) from error
        return leads


def _said(line: str) -> tuple[str, str]:
    """A lead, and what the chart says it's for, empty where it says nothing: `white = ground`, `white: ground`."""
    label, _, said = (part.strip() for part in re.sub("[:=]", "=", line).partition("="))
    if not said:
        return label, ""
    function = function_called(said)
    if function is None:
        raise forms.ValidationError(
            f"{label}: “{said[:LONGEST]}” is no function. Write what the chart says in words like ground, tail, "
            "stop, turn left or reverse."
        )
    return label, str(function)


def _would_go(leads: list[str]) -> str:
    return f"What was tried on {listed(leads)} would go."


class TrialForm(forms.Form):
    """Which pair, and what was seen."""

    plus = forms.ChoiceField(label="On positive", widget=forms.Select(attrs={"class": "form-select"}))
    minus = forms.ChoiceField(label="On negative", widget=forms.Select(attrs={"class": "form-select"}))
    seen = forms.ChoiceField(choices=[(str(seen), "") for seen in Seen])
    light = forms.ChoiceField(
        label="Color of the light",
        required=False,
        choices=[("", "not noted"), *((str(light), str(light)) for light in Light)],
        widget=forms.Select(attrs={"class": "form-select"}),
    )
    amps_a = DecimalComma(label="Current", unit="A", required=False)
    fuse_a = forms.FloatField(widget=forms.HiddenInput, required=False)

    def __init__(self, *args: Any, leads: Sequence[str], **options: Any) -> None:
        super().__init__(*args, **options)
        choices = [(lead, lead) for lead in leads]
        offer(self, "plus", choices)
        offer(self, "minus", choices)
        self.fields["amps_a"].widget.attrs["class"] = "form-control"

    def trial(self) -> Trial:
        """A valid form as the core takes it."""
        facts = self.cleaned_data
        return Trial(
            facts["plus"],
            facts["minus"],
            Seen(facts["seen"]),
            Light(facts["light"]) if facts["light"] and facts["seen"] in (Seen.DIM, Seen.LIT) else None,
            facts["amps_a"],
            facts["fuse_a"] or FIRST_FUSE_A,
        )
