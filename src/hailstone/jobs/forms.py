"""The brief, as a form: vehicle, supply voltage, what is added."""

from __future__ import annotations

import re
from typing import Any

from django import forms
from django.http import QueryDict

from electrics.design.accessories import OWN, accessories, check_wishes, mid_sentence, own_kind, stand_in_twice
from electrics.design.load import check_load_a
from electrics.document.written import written
from electrics.errors import FactError
from electrics.identify.tools import EVERY_TOOL
from electrics.reference.usual import system_scale
from electrics.reference.zones import bodies
from electrics.vocabulary import DEFAULT_SUPPLY_V, Arrangement, BrakeWithHazard, supply_range_v
from hailstone.jobs.models import Job, Vehicle
from hailstone.jobs.things import ABOUT
from hailstone.layers.lacks import NOT_FITTED
from hailstone.shop.fields import DecimalComma, WholeNumber, choices_of, offer, tidy_number
from hailstone.wording.complaints import COMPLAINTS
from hailstone.wording.words import TOOL_NAMES

OWN_EXAMPLE = "red = tail; 0.2 A\nyellow = over(turn left, tail); 2.1 A; filament"


ABOUTS = [(id, name) for id, (name, _) in ABOUT.items()]


class BriefForm(forms.Form):
    """Vehicle and job; what is impossible is refused with the reason."""

    version = forms.IntegerField(widget=forms.HiddenInput, required=False)
    title = forms.CharField(label="Job", max_length=80)
    make = forms.CharField(label="Make", max_length=40)
    model = forms.CharField(label="Model", max_length=40)
    year = WholeNumber(label="Year", min_value=1900, max_value=2100, required=False)
    market = forms.CharField(label="Market", max_length=40, required=False)
    body = forms.ChoiceField(
        label="Body", choices=[(body.id, body.name.capitalize()) for body in bodies()], required=False
    )
    registration = forms.CharField(label="Registration", max_length=20, required=False)
    vin = forms.CharField(label="VIN", max_length=20, required=False)
    odometer_km = WholeNumber(label="Odometer", min_value=0, max_value=5_000_000, required=False)
    customer = forms.CharField(label="Customer", max_length=80, required=False)
    order_number = forms.CharField(label="Order number", max_length=40, required=False)
    system_v = forms.TypedChoiceField(
        label="System", choices=[("6", "6 V"), ("12", "12 V"), ("24", "24 V")], coerce=int, initial="12"
    )
    supply_v = DecimalComma(label="Battery now", unit="V", help_text="Across its posts, everything off.")
    computer = forms.ChoiceField(
        label="Does a computer power or monitor the lamps?",
        choices=Vehicle.Computer,
        initial=Vehicle.Computer.UNKNOWN,
        help_text="Don't use a bulb-type test light on a computer's circuits.",
    )
    arrangement = forms.ChoiceField(
        label="Rear signals",
        required=False,
        choices=[
            ("", "Not known: find out"),
            (str(Arrangement.SEPARATE), "Separate: brake and turn on different wires"),
            (str(Arrangement.COMBINED), "Combined: brake and turn on one wire"),
        ],
    )
    brake_with_hazard = forms.ChoiceField(
        label="Hazards on, then brake (combined signals)",
        required=False,
        choices=[
            ("", "Not known yet"),
            (str(BrakeWithHazard.FLASH_WINS), "The lamps keep flashing"),
            (str(BrakeWithHazard.BRAKE_WINS), "The lamps stay lit"),
        ],
    )
    not_fitted = forms.MultipleChoiceField(
        label="Not on this vehicle", required=False, widget=forms.CheckboxSelectMultiple, choices=NOT_FITTED
    )
    complaint = forms.ChoiceField(
        label="What's the job?",
        required=False,
        choices=[("", "Something is added, replaced or rewired"), *COMPLAINTS.items()],
    )
    addition = forms.ChoiceField(
        label="What is added", help_text="If something's wrong: what was changed before the trouble started?"
    )
    also = forms.MultipleChoiceField(label="Also added", required=False, widget=forms.CheckboxSelectMultiple)
    own_leads = forms.CharField(
        label="Its leads, one a line",
        required=False,
        max_length=600,
        widget=forms.Textarea(attrs={"rows": 3, "spellcheck": "false", "placeholder": OWN_EXAMPLE}),
        help_text="lead = what it comes on with; amps; LED or filament; positive or ground. Use tail, stop, "
        "turn left, turn right, stop turn left, stop turn right, reverse, low beam, fog rear, "
        "battery, ignition and own switch, with and, or, not. over(a, b) means a while a is on or "
        "flashing, otherwise b (in the dark half of a flash, b stays off).",
    )
    added_count = WholeNumber(
        label="How many", help_text="For lamps with one lead. A set counts in full until you delete part of it."
    )
    added_each_a = DecimalComma(label="Current of each", unit="A")
    tools = forms.MultipleChoiceField(
        label="Test tools", required=False, widget=forms.CheckboxSelectMultiple, choices=TOOL_NAMES.items()
    )
    has_helper = forms.BooleanField(label="I have a helper for the pedal", required=False, initial=True)

    def __init__(self, *args: Any, **options: Any) -> None:
        super().__init__(*args, **options)
        self.prepare()
        for name, field in self.fields.items():
            widget = field.widget
            kind = "form-select" if isinstance(widget, forms.Select) else "form-control"
            if isinstance(widget, (forms.CheckboxInput, forms.CheckboxSelectMultiple)):
                kind = "form-check-input"
            widget.attrs["class"] = kind
            widget.attrs.setdefault("autocomplete", "off")
            if self.is_bound and name in self.errors:
                widget.attrs["aria-invalid"] = "true"
                widget.attrs["class"] = f"{kind} is-invalid"

    def prepare(self) -> None:
        """What may be chosen; before anything is looked at."""
        kinds = [(item.id, item.name) for item in accessories()]
        offer(self, "addition", [*kinds, (OWN, "Custom: enter its leads")])
        offer(self, "also", [(item.id, item.name) for item in accessories()])

    def clean_not_fitted(self) -> list[str]:
        return sorted(filter(None, ",".join(self.cleaned_data["not_fitted"]).split(",")))

    def clean_tools(self) -> str:
        picked = set(self.cleaned_data["tools"])
        return "" if picked in (set(), set(EVERY_TOOL)) else ",".join(sorted(picked))

    def clean_body(self) -> str:
        return self.cleaned_data["body"] or "car"

    def clean_vin(self) -> str:
        vin = self.cleaned_data["vin"].replace(" ", "").upper()
        if vin and (len(vin) != 17 or not re.fullmatch(r"[A-HJ-NPR-Z0-9]{17}", vin)) and len(vin) > 12:
            raise forms.ValidationError("A VIN has 17 letters and digits, without I, O and Q (ISO 3779).")
        return vin

    def clean_also(self) -> str:
        return ",".join(self.cleaned_data["also"])

    def clean(self) -> dict[str, Any]:
        facts = super().clean() or {}
        if "supply_v" in facts and "system_v" in facts:
            low, high = supply_range_v(facts["system_v"])
            if not low <= facts["supply_v"] <= high:
                self.add_error(
                    "supply_v",
                    f"{facts['supply_v']:g} V cannot be a {facts['system_v']} V battery. "
                    f"Expected {low:.1f} to {high:.1f} V; measure across its posts.",
                )
        if facts.get("addition") == OWN:
            try:
                check_wishes(own_kind(facts.get("own_leads", ""), 1).leads)
            except FactError as error:
                self.add_error("own_leads", str(error))
        named = [facts.get("addition", ""), *facts.get("also", "").split(",")]
        twice = stand_in_twice([each for each in accessories() if each.id in named])
        if twice and {"addition", "also", "things"} & set(self.changed_data):
            self.add_error(
                "things" if "things" in self.fields else "also",
                f"{twice[0]}, and {mid_sentence(twice[1])}: both replace the same lamps. Choose one, then add the "
                f"rest under Lamps and parts.",
            )
        if "added_count" in facts and "added_each_a" in facts:
            try:
                check_load_a(facts["added_count"], facts["added_each_a"])
            except FactError as error:
                self.add_error("added_count" if error.field == "count" else "added_each_a", str(error))
        return facts

    @property
    def ask_later(self) -> bool:
        """Whether what can wait holds something that is wrong, or was typed already."""
        later = ("year", "market", "customer", "order_number", "registration", "vin", "odometer_km", "not_fitted")
        wrong = ("supply_v", "added_count", "added_each_a", *later)
        return any(name in self.errors for name in wrong) or (
            self.is_bound and any(self.data.get(name) for name in later)
        )

    @staticmethod
    def vehicle_facts(vehicle: Vehicle) -> dict[str, Any]:
        """A stored vehicle as the form's values."""
        said = vehicle.said
        return {
            "make": vehicle.make,
            "model": vehicle.model,
            "year": vehicle.year,
            "market": vehicle.market,
            **{name: value for name, value in written(said).items() if name in BriefForm.base_fields},
            "system_v": str(said.system_v),
            "not_fitted": [id for id, _ in NOT_FITTED if set(id.split(",")) <= said.not_fitted],
            "registration": vehicle.registration,
            "vin": vehicle.vin,
            "odometer_km": vehicle.odometer_km,
        }

    @staticmethod
    def facts_of(job: Job) -> dict[str, Any]:
        """A stored job as the form's values."""
        return BriefForm.vehicle_facts(job.vehicle) | {
            "version": job.version,
            "title": job.title,
            "supply_v": tidy_number(job.supply_v),
            "complaint": job.complaint,
            "addition": job.addition,
            "own_leads": job.own_leads,
            "also": job.also.split(","),
            "added_count": job.added_count,
            "added_each_a": tidy_number(job.added_each_a),
            "has_helper": job.has_helper,
            "tools": sorted(job.at_hand),
            "customer": job.customer,
            "order_number": job.order_number,
        }


BLANK = {
    "supply_v": "Across its posts, everything off. Blank: a rested battery.",
    "added_count": "Blank: the usual number. A set counts in full until you delete part of it.",
    "added_each_a": "Blank: what such lamps usually draw.",
    "computer": "",
}
"""What is assumed where a new job leaves it open."""


class NewJobForm(BriefForm):
    """The brief of a job that begins: what it is about, on what; all that can wait has a usual value."""

    about = forms.ChoiceField(choices=ABOUTS, initial="add", required=False)
    things = forms.MultipleChoiceField(required=False)

    def prepare(self) -> None:
        super().prepare()
        offer(self, "things", [*choices_of(self, "also"), (OWN, OWN)])
        for name in ("title", "supply_v", "addition", "added_count", "added_each_a", "computer"):
            self.fields[name].required = False
        for name, hint in BLANK.items():
            self.fields[name].help_text = hint

    def picked(self) -> list[str]:
        """The lamps and parts that are ticked, as sent, else as a job begins."""
        if not self.is_bound:
            return list(self.initial.get("things", ()))
        assert isinstance(self.data, QueryDict)
        return self.data.getlist("things") or [self.data.get("addition", "")]

    def clean(self) -> dict[str, Any]:
        """What was not said is as it usually is for what is fitted first."""
        facts = self.cleaned_data
        picked = facts.get("things") or []
        if picked:
            facts["addition"], facts["also"] = picked[0], ",".join(each for each in picked[1:] if each != OWN)
            if OWN in picked[1:]:
                self.add_error(
                    "things", "Custom leads start alone: start with them, then add the rest under Lamps and parts."
                )
        if not facts.get("addition"):
            self.add_error("things", "Pick what you're fitting, or what was changed before the trouble started.")
        about = facts.get("about") or ("wrong" if facts.get("complaint") else "add")
        if about != "wrong":
            facts["complaint"] = ""
        elif not facts.get("complaint") and "complaint" not in self.errors:
            self.add_error("complaint", "Choose what's wrong.")
        facts["computer"] = facts.get("computer") or str(Vehicle.Computer.UNKNOWN)
        known = accessories().rows.get(facts.get("addition", ""))
        scale = 1 / system_scale(facts.get("system_v", 12))
        if facts.get("added_count") is None and "added_count" not in self.errors:
            facts["added_count"] = known.count if known else 1
        if facts.get("added_each_a") is None and "added_each_a" not in self.errors:
            facts["added_each_a"] = round(known.leads[0].each_a * scale, 3) if known else 0.3
        if facts.get("supply_v") is None and "supply_v" not in self.errors:
            facts["supply_v"] = DEFAULT_SUPPLY_V[facts.get("system_v", 12)]
        if not facts.get("title") and "title" not in self.errors:
            what = COMPLAINTS.get(facts.get("complaint", ""), "") or (known.name if known else "Custom lamps")
            facts["title"] = what[:80]
        super().clean()
        return facts


class BeforeForm(forms.Form):
    """What is noted before the work; see `electrics.document.as_found`."""

    rate_left_per_min = DecimalComma(
        unit="/min",
        label="Left signal, flashes a minute",
        required=False,
        min_value=10,
        max_value=400,
        help_text="Count for 30 seconds and double it.",
    )
    rate_right_per_min = DecimalComma(
        unit="/min", label="Right signal, flashes a minute", required=False, min_value=10, max_value=400
    )
    warnings = forms.CharField(label="Warnings on the dash", required=False, max_length=200)
    dead = forms.CharField(label="Lamps that fail already", required=False, max_length=200)
