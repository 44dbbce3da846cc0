"""Every size of one lead with its rule, its inputs and the source of the numbers, as rows."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from electrics.design.inputs import INPUTS, Assumed
from electrics.job.hookup_plan import LeadPlan
from electrics.reference.conductor import Conductor
from electrics.reference.fuses import fuse_name
from hailstone.wording.hookup import INPUT_NAMES
from hailstone.wording.words import listed

UNITS = {each.id: each.unit for each in INPUTS}


@dataclass(frozen=True)
class SizeRow:
    """One size: what, how large, by which rule, inputs and source; whether an input was overridden."""

    what: str
    size: str
    rule: str
    inputs: str
    source: str
    is_overridden: bool


def size_rows(
    lead: LeadPlan, host_wire: str, fuses_a: Sequence[float], laid: Sequence[Conductor] = ()
) -> list[SizeRow]:
    """The rows for what is decided so far.

    Parameters
    ----------
    lead : LeadPlan
    host_wire : str
        The factory wire's size.
    fuses_a : sequence of float
        The ratings of those that are fitted for it [A].
    laid : sequence of Conductor
        The wires that feed it in the design.
    """
    sized, run = lead.sized, lead.run
    assumed = sized.assumed
    rows = []
    if sized.option is not None:
        option = sized.option
        fed = ("load_a", "hot_c", "voltage_v", "aim_percent", "most_drop_v")
        rows.append(
            SizeRow(
                "Wire",
                option.conductor.name,
                f"drops {option.drop_v:.2f} V, {option.drop_share:.1%}: aim {assumed['aim_percent']:g} %, never over "
                f"{assumed['most_drop_v']:g} V",
                f"{_metres(lead)}, {_inputs(assumed, *fed)}",
                "ASTM B258, IEC 60028; limits common practice",
                assumed.is_overridden(*fed) or bool(run.wire_size),
            )
        )
        if any(each != option.conductor for each in laid):
            rows.append(
                SizeRow(
                    "Wires to it",
                    listed(each.name for each in laid),
                    "from source to lamp, what both sides share and what is lost before the tap included: never over "
                    f"{assumed['most_drop_v']:g} V",
                    "all leads together",
                    "common practice",
                    is_overridden=False,
                )
            )
        rows.append(_fuse_row(lead, fuses_a))
    rows += _parts(lead)
    if sized.joint is not None and sized.option is not None:
        joint = sized.joint
        rows.append(
            SizeRow(
                "Connector and sleeve",
                f"{joint.connector_colour}, {joint.sleeve_mm:g} mm",
                "connector for the thicker wire; sleeve before shrinking at least "
                f"{assumed['sleeve_factor']:g} × the joint",
                f"{host_wire} AWG and {sized.option.conductor.name}",
                "common practice",
                assumed.is_overridden("sleeve_factor"),
            )
        )
    return rows


def _fuse_row(lead: LeadPlan, fuses_a: Sequence[float]) -> SizeRow:
    """The added fuses; none where the factory fuse already protects the wire."""
    assumed, option = lead.sized.assumed, lead.sized.option
    assert option is not None
    bears = f"the {option.conductor.largest_fuse_a:g} A that the wire bears"
    picked = ", picked by hand" if "fuse_a" in assumed.overrides else ""
    if not fuses_a:
        rule = f"the factory fuse is not over {bears}"
        return SizeRow("Fuse of its own", "none", rule, "", "common practice", is_overridden=False)
    return SizeRow(
        "Fuse of its own",
        listed(fuse_name(f"{amps_a:g} A") for amps_a in fuses_a),
        f"at least {assumed['fuse_factor']:g} × what hangs behind it, at most {bears}{picked}",
        _inputs(assumed, "load_a", "fuse_factor"),
        "ISO 8820-3 (from memory)",
        assumed.is_overridden("load_a", "fuse_factor", "fuse_a"),
    )


def _metres(lead: LeadPlan) -> str:
    assumed = [" assumed" if given is None else "" for given in (lead.run.out_m, lead.run.back_m)]
    return f"{lead.out_m:g} m out{assumed[0]}, {lead.back_m:g} m back{assumed[1]}"


def _parts(lead: LeadPlan) -> list[SizeRow]:
    sized = lead.sized
    assumed = sized.assumed
    rows = []
    if sized.relay is not None:
        relay, fed = sized.relay, ("load_a", "contact_factor", "coil_ohm")
        rows.append(
            SizeRow(
                "Relay",
                f"{relay.contact_a:g} A contact, {relay.coil_ohm:g} ohm coil",
                f"contact {assumed['contact_factor']:g} × the load; coil draws {relay.coil_a:.2f} A, pulls in by "
                f"{relay.pull_in_v:.1f} V, hot by {relay.pull_in_hot_v:.1f} V; a diode across it, stripe to 86",
                _inputs(assumed, *fed),
                "ISO 7588 kind parts (from memory)",
                assumed.is_overridden(*fed),
            )
        )
    if sized.diode is not None:
        diode, fed = sized.diode, ("diode_margin", "reverse_v", "sleeve_k_per_w")
        load = f"{sized.relay.coil_a:.2f} A of the coil" if sized.relay else _inputs(assumed, "load_a")
        rows.append(
            SizeRow(
                "Diodes",
                diode.diode.part,
                f"{assumed['diode_margin']:g} × the current and {assumed['reverse_v']:g} V reverse; drops "
                f"{diode.drop_v:.2f} V, {diode.heat_w:.1f} W, {diode.rise_k:.0f} K warmer in heat-shrink"
                + (": leave it air, not tied into the loom" if diode.is_hot else "")
                + ("" if sized.relay else f", light of a filament less {diode.light_lost:.0%}"),
                f"{load}, {_inputs(assumed, *fed)}",
                "data sheets, ISO 16750-2, ISO 7637-2 (from memory)",
                assumed.is_overridden("load_a", *fed),
            )
        )
    if sized.problem:
        rows.append(SizeRow("Part", "none", sized.problem, _inputs(assumed, "load_a"), "data sheets", False))
    return rows


def _inputs(assumed: Assumed, *ids: str) -> str:
    """`7 A instead of 2.4 A, 85 °C`."""
    texts = []
    for id in ids:
        value = f"{assumed[id]:.2f} A" if id == "load_a" else f"{assumed[id]:.4g} {UNITS[id]}"
        if id not in ("load_a", "hot_c", "voltage_v"):
            value = f"{INPUT_NAMES[id].lower()} {value}"
        if id in assumed.overrides:
            usual = f"{assumed.usual[id]:.2f} A" if id == "load_a" else f"{assumed.usual[id]:.4g} {UNITS[id]}"
            value += f" instead of {usual}"
        texts.append(value)
    return ", ".join(texts)
