"""Every size of a hook-up with its rule, its inputs and the source of the numbers, as rows."""

from __future__ import annotations

from dataclasses import dataclass

from electrics.errors import FactError
from electrics.hookup.sizing import CURRENT_MARGIN, REVERSE_V, choose_diode, choose_relay
from electrics.reference.conductor import HOT_C
from hailstone.hookup.models import HookUp
from hailstone.layers.hookup import RELAY_FORMS, HookUpPlan


@dataclass(frozen=True)
class SizeRow:
    """One size: what, how large, by which rule, inputs and source; whether an input was overridden."""

    what: str
    size: str
    rule: str
    inputs: str
    source: str
    is_overridden: bool


def size_rows(plan: HookUpPlan, choice: HookUp, system_v: int) -> list[SizeRow]:
    """The rows for what is decided so far."""
    is_load_overridden = choice.load_override_a is not None
    hot_c = HOT_C if choice.hot_override_c is None else choice.hot_override_c
    load = f"{plan.sized_a:.2f} A" + (f" instead of {plan.added_a:.2f} A" if is_load_overridden else "")
    rows = []
    if plan.option is not None:
        option = plan.option
        inputs = (
            f"{load}, {choice.out_m:g} m out, {choice.back_m:g} m back, copper at {hot_c:g} °C, {plan.voltage_v:g} V"
        )
        rows.append(
            SizeRow(
                "Wire",
                option.conductor.name,
                f"drops {option.drop_v:.2f} V, {option.drop_share:.1%}: aim 3 %, never over 0.5 V on 12 V",
                inputs,
                "ASTM B258, IEC 60028; limits common practice",
                is_load_overridden or choice.hot_override_c is not None or bool(choice.wire_size),
            )
        )
        if option.fuse is not None:
            rule = f"at least 1.25 × the load, at most the {option.conductor.largest_fuse_a:g} A that the wire bears"
            name = f"{option.fuse.rating_a:g} A {option.fuse.colour}"
            rows.append(SizeRow("Branch fuse", name, rule, load, "ISO 8820-3 (from memory)", is_load_overridden))
    try:
        rows += _parts(plan, load, system_v, is_load_overridden)
    except FactError as error:
        rows.append(SizeRow("Part", "none", str(error), load, "data sheets (from memory)", is_load_overridden))
    if plan.joint is not None and plan.option is not None:
        joint = plan.joint
        rows.append(
            SizeRow(
                "Connector and sleeve",
                f"{joint.connector_colour}, {joint.sleeve_mm:g} mm",
                "connector for the thicker wire; sleeve at least 1.2 × the joint before shrinking",
                f"{choice.host_wire} AWG and {plan.option.conductor.name}",
                "common practice",
                False,
            )
        )
    return rows


def _parts(plan: HookUpPlan, load: str, system_v: int, is_overridden: bool) -> list[SizeRow]:
    rows = []
    if any(form in RELAY_FORMS for form in plan.forms):
        relay = choose_relay(plan.sized_a, system_v)
        rows.append(
            SizeRow(
                "Relay",
                f"{relay.contact_a:g} A contact, {relay.coil_ohm:g} ohm coil",
                f"contact 1.25 × the load; coil draws {relay.coil_a:.2f} A, pulls in by {relay.pull_in_v:.1f} V, "
                f"hot by {relay.pull_in_hot_v:.1f} V; a diode across it, stripe to 86",
                load,
                "ISO 7588 kind parts (from memory)",
                is_overridden,
            )
        )
    if "diode_or" in plan.forms:
        diode = choose_diode(plan.sized_a, system_v)
        rows.append(
            SizeRow(
                "Diodes",
                diode.diode.part,
                f"{CURRENT_MARGIN:g} × the load and {REVERSE_V[system_v]:g} V reverse; drops {diode.drop_v:.2f} V, "
                f"{diode.heat_w:.1f} W, {diode.rise_k:.0f} K warmer in a sleeve, light less {diode.light_lost:.0%}",
                load,
                "data sheets, ISO 16750-2, ISO 7637-2 (from memory)",
                is_overridden,
            )
        )
    return rows
