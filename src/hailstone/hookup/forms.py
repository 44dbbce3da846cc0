"""The decisions of layer three, as a form that saves whatever can be saved."""

from __future__ import annotations

from typing import Any

from django import forms

from electrics.hookup.joints import joint_methods
from electrics.reference.bulbs import bulbs
from electrics.reference.conductor import WireStandard, conductors
from electrics.reference.fuses import fuses
from hailstone.hookup.models import HookUp
from hailstone.hookup.services import WAY
from hailstone.jobs.forms import DecimalComma, tidy_number

STANDARDS = [
    (str(WireStandard.AWG), "AWG (ASTM B258)"),
    (str(WireStandard.VEHICLE), "Vehicle cable by gauge (J1128 kind)"),
    (str(WireStandard.METRIC), "Metric, mm² (ISO 6722-1)"),
]


class HookUpForm(forms.Form):
    """Every field may stay open; what is there must be possible."""

    version = forms.IntegerField(widget=forms.HiddenInput, required=False)
    override = forms.CharField(label="Taken although it does not fit, because", required=False, max_length=200)
    fed_by = forms.ChoiceField(label="Fed by", choices=HookUp.FedBy)
    host_bulb = forms.ChoiceField(label="Factory bulbs on it", required=False)
    host_count = forms.IntegerField(label="How many", required=False, min_value=0, max_value=20)
    host_fuse_a = forms.TypedChoiceField(label="Its fuse", required=False, coerce=float, empty_value=None)
    host_wire = forms.ChoiceField(label="Factory wire")
    out_m = DecimalComma(label="Way out", unit="m", required=False, min_value=0.05, max_value=60)
    back_m = DecimalComma(label="Way back", unit="m", required=False, min_value=0, max_value=60)
    load_override_a = DecimalComma(label="Size for, instead", unit="A", required=False, min_value=0.01, max_value=30)
    hot_override_c = DecimalComma(
        label="Copper at, instead of 85", unit="C", required=False, min_value=-40, max_value=125
    )
    ground = forms.ChoiceField(label="Ground", choices=HookUp.Ground)
    wire_standard = forms.ChoiceField(label="Wire sold as", choices=STANDARDS)
    wire_size = forms.ChoiceField(label="Size", required=False)
    joint = forms.ChoiceField(label="Joint")
    is_exposed = forms.BooleanField(label="In spray, under the vehicle or on a vibrating part", required=False)

    def __init__(self, *args: Any, ways: dict[str, list[str]], choice: HookUp, **options: Any) -> None:
        """`ways` are the keys that each lead may take."""
        super().__init__(*args, initial=self.facts_of(choice), **options)
        for lead, keys in ways.items():
            choices = [("", "None yet"), *((key, key) for key in keys)]
            self.fields[WAY + lead] = forms.ChoiceField(
                label="Way", required=False, choices=choices, widget=forms.RadioSelect
            )
        self.choice = choice
        system_v = choice.job.vehicle.system_v
        standard = self.data.get("wire_standard") if self.is_bound else choice.wire_standard
        if standard not in dict(STANDARDS):
            standard = str(WireStandard.AWG)
        sizes = [(wire.size, wire.name) for wire in conductors(WireStandard(standard))]
        awg = [(wire.size, wire.name) for wire in conductors(WireStandard.AWG)]
        kinds = [(bulb.name, bulb.name) for bulb in bulbs() if bulb.system_v == system_v]
        self.fields["host_bulb"].choices = [("", "Not noted yet"), *kinds]
        self.fields["host_fuse_a"].choices = [
            ("", "Not noted yet"),
            *((f"{fuse.rating_a:g}", f"{fuse.rating_a:g} A {fuse.colour}") for fuse in fuses()),
        ]
        self.fields["host_wire"].choices = awg
        self.fields["wire_size"].choices = [("", "Thinnest that is right"), *sizes]
        self.fields["joint"].choices = [(method.id, method.name) for method in joint_methods()]
        for name, field in self.fields.items():
            kind = "form-select" if isinstance(field.widget, forms.Select) else "form-control"
            if isinstance(field.widget, (forms.CheckboxInput, forms.RadioSelect)):
                kind = "form-check-input"
            field.widget.attrs["class"] = kind + (" is-invalid" if self.is_bound and name in self.errors else "")

    @staticmethod
    def facts_of(choice: HookUp) -> dict[str, Any]:
        """Stored decisions as the form's values."""
        return {
            "version": choice.version,
            "override": choice.override,
            "fed_by": choice.fed_by,
            "host_bulb": choice.host_bulb,
            "host_count": choice.host_count,
            "host_fuse_a": tidy_number(choice.host_fuse_a),
            "host_wire": choice.host_wire,
            "out_m": tidy_number(choice.out_m),
            "back_m": tidy_number(choice.back_m),
            "load_override_a": tidy_number(choice.load_override_a),
            "hot_override_c": tidy_number(choice.hot_override_c),
            "ground": choice.ground,
            "wire_standard": choice.wire_standard,
            "wire_size": choice.wire_size,
            "joint": choice.joint,
            "is_exposed": choice.is_exposed,
        }


class SchoolForm(forms.Form):
    """The shop's ways of joining, grounding and buying wire."""

    joint = forms.ChoiceField(label="Joint")
    ground = forms.ChoiceField(label="Ground", choices=HookUp.Ground)
    wire_standard = forms.ChoiceField(label="Wire sold as", choices=STANDARDS)

    def __init__(self, *args: Any, **options: Any) -> None:
        super().__init__(*args, **options)
        self.fields["joint"].choices = [(method.id, method.name) for method in joint_methods()]
        for field in self.fields.values():
            field.widget.attrs["class"] = "form-select"
