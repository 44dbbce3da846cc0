"""The decisions of layer three, as a form that saves whatever can be saved."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from django import forms

from electrics.design.inputs import INPUTS, assume, check_fuse
from electrics.design.joints import ground_methods, joint_methods
from electrics.document.way import UNUSED
from electrics.errors import FactError
from electrics.job.hookup_plan import HookUpPlan, LeadPlan
from electrics.job.ways import Way
from electrics.reference.bulbs import bulbs
from electrics.reference.conductor import WireStandard, conductors
from electrics.reference.fuses import fuses
from electrics.ways.corrections import correction_methods
from hailstone.hookup.models import CIRCUIT_FIELDS, RUN_FIELDS, HookUp
from hailstone.hookup.services import WAY
from hailstone.shop.fields import DecimalComma, WholeNumber, offer, tidy_number
from hailstone.wording.hookup import INPUT_NAMES

STANDARDS = [
    (str(WireStandard.AWG), "AWG (ASTM B258)"),
    (str(WireStandard.VEHICLE), "Vehicle cable by gauge (J1128 kind)"),
    (str(WireStandard.METRIC), "Metric, mm² (ISO 6722-1)"),
]


GROUNDS = [(method.id, method.name) for method in ground_methods()]
AWG = [(wire.size, wire.name) for wire in conductors(WireStandard.AWG)]
SUFFIXES = ("", *(f"_{n}" for n in range(2, 7)))
"""What the fields of the first, the second ... tapped circuit end with: more than any way taps."""
IN = "in_"
"""What the field of an input that can be overridden begins with."""


class WayField(forms.ChoiceField):
    """A way by its key; where its sources have the same part in it, their order says nothing."""

    def __init__(self, *, ways: Sequence[Way], **options: Any) -> None:
        super().__init__(**options)
        self.ways = ways

    def to_python(self, value: Any) -> str:
        text = super().to_python(value)
        return next((way.key for way in self.ways if way.is_of(text)), text)


class HookUpForm(forms.Form):
    """Every field may stay open; what is there must be possible. Runs and circuits are those of one lead."""

    version = forms.IntegerField(widget=forms.HiddenInput, required=False)
    override = forms.CharField(
        label="Why use it anyway?",
        required=False,
        max_length=200,
        help_text="The reason is kept and printed on both sheets. A wrong stop or turn signal can kill; local code "
        "decides.",
    )
    keeps = forms.ChoiceField(label="How long it stays", choices=HookUp.Stays)
    out_m = DecimalComma(
        label="Feed length",
        unit="m",
        required=False,
        min_value=0.05,
        max_value=60,
        help_text="Tap or battery to lamp, along the harness.",
    )
    back_m = DecimalComma(
        label="Ground length",
        unit="m",
        required=False,
        min_value=0,
        max_value=60,
        help_text="Lamp to ground; a body screw is short.",
    )
    ground = forms.ChoiceField(label="Ground", choices=GROUNDS)
    ground_wire = forms.ChoiceField(label="The lamp's ground wire", help_text="Counts where that is the ground.")
    wire_standard = forms.ChoiceField(label="Wire sold as", choices=STANDARDS)
    wire_size = forms.ChoiceField(label="Size", required=False)
    joint = forms.ChoiceField(label="Connection")
    is_exposed = forms.BooleanField(
        label="Exposed to spray, under the vehicle or on a vibrating part", required=False
    )

    @property
    def shown_fields(self) -> list[forms.BoundField]:
        """The fields that have a place on the page for what is wrong with them: in hidden, ticked ones nothing is."""
        return [
            each
            for each in self
            if not each.is_hidden
            and not isinstance(each.field, forms.BooleanField)
            and not each.name.startswith((WAY, "override"))
        ]

    def __init__(
        self, *args: Any, plan: HookUpPlan, lead: LeadPlan, circuits: Sequence[str], choice: HookUp, **options: Any
    ) -> None:
        """`circuits` are the functions of the factory circuits whose facts are asked for."""
        self.lead, self.functions, self.choice = lead, tuple(circuits), choice
        super().__init__(*args, **{"initial": self._facts(), **options})
        for each in plan.leads:
            keys = [("", "None yet"), *((way.key, way.key) for way in each.ways)]
            keys.append((UNUSED, "Unused"))
            self.fields[WAY + each.lead.id] = WayField(
                label="Way", required=False, choices=keys, widget=forms.RadioSelect, ways=each.ways
            )
        for unused in plan.unused:
            self.fields[WAY + unused.id] = forms.ChoiceField(
                label="Way",
                required=False,
                choices=[("", "Used again"), (UNUSED, "Unused")],
                widget=forms.RadioSelect,
            )
        for suffix, _ in self.circuits:
            self._add_circuit(suffix)
        for name in ("out_m", "back_m"):
            self.fields[name].widget.attrs["placeholder"] = f"{tidy_number(getattr(lead, name))} assumed"
        for given in INPUTS:
            self.fields[IN + given.id] = DecimalComma(label=INPUT_NAMES[given.id], unit=given.unit, required=False)
        standard = self.data.get("wire_standard") if self.is_bound else lead.run.wire_standard
        if standard not in dict(STANDARDS):
            standard = str(WireStandard.AWG)
        self.conductors = conductors(WireStandard(standard))
        sizes = [(wire.size, wire.name) for wire in self.conductors]
        offer(self, "wire_size", [("", "Thinnest that works"), *sizes])
        offer(self, "ground_wire", AWG)
        offer(self, "joint", [(method.id, method.name) for method in joint_methods()])
        for name, field in self.fields.items():
            kind = "form-select" if isinstance(field.widget, forms.Select) else "form-control"
            if isinstance(field.widget, (forms.CheckboxInput, forms.RadioSelect)):
                kind = "form-check-input"
            field.widget.attrs["class"] = kind + (" is-invalid" if self.is_bound and name in self.errors else "")

    @property
    def circuits(self) -> list[tuple[str, str]]:
        """Suffix and function of the circuits whose facts are asked for."""
        return list(zip(SUFFIXES, self.functions, strict=False))

    def clean(self) -> dict[str, Any]:
        """Overrides must not contradict each other, the load, or the wire that was picked."""
        facts = super().clean() or {}
        overrides = {each.id: facts[IN + each.id] for each in INPUTS if facts.get(IN + each.id) is not None}
        assumed = self.lead.sized.assumed
        try:
            found = assume(assumed.usual["load_a"], self.choice.job.vehicle.said.system_v, overrides)
            picked = next((wire for wire in self.conductors if wire.size == facts.get("wire_size")), None)
            if picked is not None:
                check_fuse(found, picked, self.conductors)
        except FactError as error:
            self.add_error(IN + error.field, str(error))
        if not any(name.startswith(IN) for name in self.errors):
            facts["overrides"] = overrides
        return facts

    def noted(self) -> dict[str, dict[str, Any]]:
        """The valid entries for each circuit, by function."""
        return {
            function: {
                name: self.cleaned_data[name + suffix]
                for name in CIRCUIT_FIELDS
                if name + suffix in self.cleaned_data
            }
            for suffix, function in self.circuits
        }

    def _facts(self) -> dict[str, Any]:
        """Stored decisions as the form's values."""
        run = self.lead.run
        facts = {name: getattr(run, name) for name in RUN_FIELDS}
        facts |= {name: tidy_number(getattr(run, name)) for name in ("out_m", "back_m")}
        facts |= {IN + id: tidy_number(value) for id, value in run.overrides.items()}
        facts |= {"version": self.choice.version, "override": self.choice.override, "keeps": self.choice.keeps}
        for suffix, function in self.circuits:
            for name, value in self.choice.circuit_of(function).items():
                facts[name + suffix] = tidy_number(value) if isinstance(value, float) else value
        return facts

    def _add_circuit(self, suffix: str) -> None:
        system_v = self.choice.job.vehicle.said.system_v
        kinds = [(bulb.name, bulb.name) for bulb in bulbs() if bulb.system_v == system_v]
        ratings = [(f"{fuse.rating_a:g}", f"{fuse.rating_a:g} A {fuse.colour}") for fuse in fuses()]
        not_yet = ("", "Not noted yet")
        fields = {
            "fed_by": forms.ChoiceField(label="Fed by", choices=HookUp.FedBy),
            "host_bulb": forms.ChoiceField(label="Factory lamps", required=False, choices=[not_yet, *kinds]),
            "host_count": WholeNumber(label="How many", required=False, min_value=0, max_value=20),
            "host_fuse_a": forms.TypedChoiceField(
                label="Its fuse", required=False, coerce=float, empty_value=None, choices=[not_yet, *ratings]
            ),
            "host_wire": forms.ChoiceField(label="Factory wire", choices=AWG),
            "measured_a": DecimalComma(
                label="Load now, by clamp", unit="A", required=False, min_value=0, max_value=40
            ),
            "most_percent": DecimalComma(
                label="Fuse limit, % (usually 80)", unit="%", required=False, min_value=30, max_value=100
            ),
        }
        for name, field in fields.items():
            self.fields[name + suffix] = field


class SchoolForm(forms.Form):
    """Shop defaults of joining, grounding and buying wire."""

    joint = forms.ChoiceField(label="Connection")
    ground = forms.ChoiceField(
        label="Ground",
        choices=GROUNDS,
        help_text="Not through hinges, painted brackets or a part that comes off.",
    )
    wire_standard = forms.ChoiceField(label="Wire sold as", choices=STANDARDS)
    correction = forms.ChoiceField(
        label="Fast flash and warnings", help_text="Hook up suggests it wherever bulbs would read as out."
    )
    stock_ohm = forms.CharField(
        label="Load resistors in stock",
        required=False,
        max_length=120,
        help_text="Ohms, separated by commas: 6, 8, 10. Correct chooses from them. Blank: usual stock values, then "
        "E12 and E24.",
    )

    def clean_stock_ohm(self) -> list[float]:
        """`6, 8, 10 ohm` as numbers [ohm]."""
        words = self.cleaned_data["stock_ohm"].lower().replace("ohm", " ").replace("ω", " ").replace(";", ",")
        found = []
        for word in filter(None, (each.strip() for each in words.split(","))):
            try:
                ohm = float(word)
            except ValueError:
                ohm = 0.0
            if not 0.5 <= ohm <= 1000:
                raise forms.ValidationError(
                    f"“{word[:20]}” is no resistor. Expected ohms from 0.5 to 1000, like 6, 8.2, 10."
                )
            found.append(ohm)
        return sorted(set(found))

    def __init__(self, *args: Any, **options: Any) -> None:
        super().__init__(*args, **options)
        offer(self, "correction", [(method.id, method.name) for method in correction_methods()])
        offer(self, "joint", [(method.id, method.name) for method in joint_methods()])
        for name, field in self.fields.items():
            field.widget.attrs["class"] = "form-control" if name == "stock_ohm" else "form-select"
