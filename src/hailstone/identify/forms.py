"""An access point and its wires, as a form."""

from __future__ import annotations

import re
from collections.abc import Sequence, Set
from dataclasses import replace
from typing import Any

from django import forms
from django.contrib.auth.models import User

from electrics.design.groups import FIXED_SPOTS
from electrics.design.routes import LONGEST_M, SHORTEST_M
from electrics.document.places import Origin, Side
from electrics.formats.colour import parse_colour
from electrics.identify.kinds import access_kinds, pin_out, side_named
from electrics.reference.zones import bodies, zones
from electrics.vocabulary import Function
from hailstone.identify.models import AccessPoint, Pin
from hailstone.jobs.models import Job
from hailstone.layers.decisions import named_distances
from hailstone.layers.distances import state_distance
from hailstone.layers.places import SaidPlace, SaidWire
from hailstone.shop.fields import DecimalComma, WholeNumber, offer
from hailstone.shop.renaming import followed, gone_field
from hailstone.wording.words import capital, function_called, function_name, pins_text

MOST_WIRES = 60
EXAMPLE = "1 BK\n2 BN/WH = tail (seller's sheet)\n3 white/green\n4-7"
MOST_ROWS = 8
WHOLE = {"": None, "yes": True, "no": False}
"""What is chosen for whether every wire is listed, and what is stored."""
_RANGE = re.compile(r"(\d{1,2})\s*(?:-|to)\s*(\d{1,2})")


MAY_BE_MIDDLE = ("rear_lamp", "front_lamp")
"""Lamps that a motorcycle has one of, in the middle."""


class PointForm(forms.Form):
    """Name, kind, side and one wire a line."""

    version = forms.IntegerField(widget=forms.HiddenInput, required=False)
    name = forms.CharField(label="Where", max_length=60, widget=forms.TextInput(attrs={"class": "form-control"}))
    kind = forms.ChoiceField(label="What it is", widget=forms.Select(attrs={"class": "form-select"}))
    side = forms.ChoiceField(
        label="Side",
        required=False,
        choices=[("", "No side"), (Side.LEFT, "Left"), (Side.RIGHT, "Right")],
        widget=forms.Select(attrs={"class": "form-select"}),
    )
    zone = forms.ChoiceField(
        label="Position on the vehicle",
        required=False,
        widget=forms.Select(attrs={"class": "form-select"}),
        help_text="Wire lengths start from it.",
    )
    far_m = DecimalComma(
        label="Wire run to it", required=False, unit="m", min_value=SHORTEST_M, max_value=LONGEST_M,
        widget=forms.TextInput(attrs={"class": "form-control", "inputmode": "decimal", "autocomplete": "off"}),
        help_text="Along the harness, if you measured it.",
    )  # fmt: skip
    far_from = forms.ChoiceField(label="From", required=False, widget=forms.Select(attrs={"class": "form-select"}))
    wires = forms.CharField(
        label="One wire per line: pin, color, = chart's function",
        required=False,
        widget=forms.Textarea(
            attrs={"class": "form-control", "rows": 8, "spellcheck": "false", "placeholder": EXAMPLE}
        ),
        help_text="For example 3 WH/GN, or 3 white/green = reverse (seller's sheet). 1-12 lists twelve cavities. A "
        "standard plug needs no list.",
    )

    claims_from = forms.CharField(
        label="Who says so",
        max_length=60,
        required=False,
        widget=forms.TextInput(attrs={"class": "form-control", "placeholder": "the chart"}),
        help_text="Just a starting point. Charts are often wrong; your readings win.",
    )
    claims_origin = forms.ChoiceField(
        choices=[(str(origin), "") for origin in Origin], required=False, widget=forms.HiddenInput
    )
    face_rows = WholeNumber(
        label="Rows of its face",
        required=False,
        min_value=0,
        max_value=MOST_ROWS,
        widget=forms.NumberInput(attrs={"class": "form-control"}),
        help_text="Of a connector or fuse box, numbered row by row. Empty: not drawn for a lamp, one row else.",
    )
    seen_from = forms.ChoiceField(
        label="Drawn",
        required=False,
        choices=[("mating", "looking into the contacts"), ("wires", "from the wire side")],
        widget=forms.Select(attrs={"class": "form-select"}),
    )

    all_wires = forms.ChoiceField(
        label="Are these all its wires?",
        required=False,
        choices=[("", "not said"), ("yes", "yes, all of them"), ("no", "no, there are more")],
        widget=forms.Select(attrs={"class": "form-select"}),
        help_text="If yes, a usual wire that isn't listed counts as missing.",
    )

    gone = gone_field("measured and chosen")

    def __init__(
        self,
        *args: Any,
        others: Set[str] = frozenset(),
        pins: Sequence[str] = (),
        used: Set[str] = frozenset(),
        body: str = "car",
        **options: Any,
    ) -> None:
        """`others` are the names of the job's other places, `pins` those here, `used` the measured or chosen ones.

        `body` is the vehicle's.
        """
        super().__init__(*args, **options)
        self.others, self.pins, self.used, self.body = others, pins, used, body
        offer(self, "kind", [(kind.id, capital(kind.name)) for kind in access_kinds()])
        offer(self, "zone", [("", "Usual for its kind"), *((zone.id, capital(zone.name)) for zone in zones())])
        offer(self, "far_from", [(name, capital(name)) for name in (*FIXED_SPOTS, *sorted(others - {*FIXED_SPOTS}))])

    @property
    def says_where(self) -> bool:
        """Whether anything is said, or wrong, of where the place is."""
        fields = ("zone", "far_m", "far_from")
        return any(self[name].errors for name in fields) or any(self[name].value() for name in fields[:2])

    def clean_name(self) -> str:
        name = self.cleaned_data["name"].strip()
        if name in self.others:
            raise forms.ValidationError("This job has a location of that name already. Use another name.")
        return name

    def clean_wires(self) -> list[SaidWire]:
        wires: list[SaidWire] = []
        problems: list[str] = []
        for number, line in enumerate(self.cleaned_data["wires"].splitlines(), start=1):
            if not line.strip():
                continue
            span = _RANGE.fullmatch(line.strip())
            if span and int(span[1]) < int(span[2]):
                wires += [SaidWire(str(n), "") for n in range(int(span[1]), int(span[2]) + 1)]
                continue
            line, _, claimed = line.partition("=")
            claimed, _, claim_from = claimed.partition("(")
            label, _, colour = re.sub(r"[,;\t]", " ", line).strip().partition(" ")
            parsed = parse_colour(colour)
            if parsed.question:
                problems.append(f"Line {number}: {parsed.question}")
            if max(len(label), len(colour)) > 60:
                problems.append(f"Line {number} is too long.")
            claim = function_called(claimed)
            if claimed.strip() and claim is None:
                problems.append(
                    f"Line {number}: “{claimed.strip()}” isn't a wire function. Use tail, stop, turn left, "
                    "stop and turn left, reverse, ground, battery feed ..."
                )
            wires.append(SaidWire(label, parsed.text, claim or "", claim_from.strip().rstrip(")").strip()[:60]))
        if not wires:
            wires = [SaidWire(pin.pin, "") for pin in pin_out(self.data.get("kind", ""))]
        if not wires:
            problems.append("List at least one pin, for example 1 BK, or 1-12 for twelve cavities.")
        labels = [wire.label for wire in wires]
        problems += [
            f"Pin {label} is listed twice. Delete one." for label in sorted(set(labels)) if labels.count(label) > 1
        ]
        if len(wires) > MOST_WIRES:
            problems.append(f"{len(wires)} wires are more than {MOST_WIRES}. Split them over access points.")
        if problems:
            raise forms.ValidationError(problems)
        return wires

    def clean(self) -> dict[str, Any]:
        facts = super().clean() or {}
        kind = facts.get("kind")
        named = side_named(facts.get("name", ""))
        may_be_middle = kind in MAY_BE_MIDDLE and bodies()[self.body].has_middle_lamps
        if kind and access_kinds()[kind].is_sided and not facts.get("side") and not may_be_middle:
            self.add_error("side", f"A {access_kinds()[kind].name} is on the left or the right. Which?")
        elif kind and not access_kinds()[kind].is_sided:
            facts["side"] = ""  # whatever was proposed: such a place has none
        if named and facts.get("side") and facts["side"] != named:
            self.add_error("side", f"The name says {named} and the side {facts['side']}. Which is it?")
        zone_side = side_named(facts.get("zone", ""))
        if zone_side and zone_side != facts.get("side", "") != "":
            self.add_error("zone", f"The side is {facts['side']}, and this is on the {zone_side}. Which is it?")
        if facts.get("far_m") is not None and not facts.get("far_from"):
            self.add_error("far_from", "State from where the wire run was measured.")
        if facts.get("name") and facts.get("far_from") == facts["name"]:
            self.add_error("far_from", "That is this place itself. From where was it measured?")
        if "wires" in facts:
            self._follow_pins(facts)
        return facts

    def _follow_pins(self, facts: dict[str, Any]) -> None:
        """Pins that are no longer listed: renamed in their order, or gone; asked where something hangs on them."""
        now = [wire.label for wire in facts["wires"]]
        try:
            named = followed(self.pins, now, self.used, facts.get("gone", ""), _no_longer_listed)
        except forms.ValidationError as error:
            self.add_error("wires", error)
            return
        was = {label: old for old, label in named.items()}
        facts["wires"] = [replace(wire, was=was.get(wire.label, "")) for wire in facts["wires"]]

    def place(self) -> SaidPlace:
        """A valid form as the services take it."""
        facts = self.cleaned_data
        return SaidPlace(
            facts["name"],
            facts["kind"],
            facts["side"],
            facts["wires"],
            facts["claims_from"],
            facts["claims_origin"] or str(Origin.SAID),
            facts["face_rows"] or 0,
            facts["seen_from"] or "mating",
            WHOLE[facts["all_wires"]],
            facts["zone"],
        )

    def state_length(self, job: Job, who: User) -> None:
        """Store the wire run that a valid form states, or take back the one that it cleared."""
        m, other, name = self.cleaned_data["far_m"], self.cleaned_data["far_from"], self.cleaned_data["name"]
        before, was = self.initial.get("far_m"), self.initial.get("far_from", "")
        if before is not None and (m is None or other != was):
            state_distance(job, who, name, was, None)
        if m is not None and (m, other) != (before, was):
            state_distance(job, who, name, other, m)

    @staticmethod
    def length_of(job: Job, point: AccessPoint, others: Set[str]) -> dict[str, Any]:
        """The stated wire run of a place as the form's values; nothing where none is stated."""
        for first, second, m in named_distances(job):
            other = second if first == point.name else first
            if point.name in (first, second) and other in {*others, *FIXED_SPOTS}:
                return {"far_m": m, "far_from": other}
        return {}

    @staticmethod
    def facts_of_place(place: SaidPlace) -> dict[str, Any]:
        """A place that is not stored yet as the form's values."""
        return {
            "name": place.name,
            "kind": place.kind,
            "side": place.side,
            "claims_from": place.claims_from,
            "claims_origin": place.claims_origin,
            "zone": place.zone,
            "wires": "\n".join(wire_line(wire) for wire in place.wires),
        }

    @staticmethod
    def facts_of(point: AccessPoint) -> dict[str, Any]:
        """A stored access point as the form's values."""
        return {
            "version": point.version,
            "name": point.name,
            "kind": point.kind,
            "side": point.side,
            "zone": point.zone,
            "claims_from": point.claims_from,
            "claims_origin": point.claims_origin,
            "face_rows": point.face_rows or None,
            "seen_from": point.seen_from,
            "all_wires": next(word for word, value in WHOLE.items() if value is point.all_wires),
            "wires": "\n".join(_line(pin) for pin in point.pins.all()),
        }


def _line(pin: Pin) -> str:
    return wire_line(SaidWire(pin.label, pin.colour, pin.claim, pin.claim_from))


def wire_line(wire: SaidWire) -> str:
    """A wire as it is typed into the form: `3 WH/GN = reverse (seller's sheet)`."""
    claim = f" = {function_name(Function(wire.claim), mid_sentence=True)}" if wire.claim else ""
    return f"{wire.label} {wire.colour}".strip() + claim + (f" ({wire.claim_from})" if wire.claim_from else "")


def _no_longer_listed(pins: list[str]) -> str:
    verbs = ("is", "has") if len(pins) == 1 else ("are", "have")
    return f"{capital(pins_text(pins))} {verbs[0]} no longer listed, and {verbs[1]} readings or a choice."
