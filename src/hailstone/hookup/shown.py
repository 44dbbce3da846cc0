"""What the Hook up page shows of a plan: ways in order of merit, truth table, circuit, load bars, sizes."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from typing import Any

from electrics.circuit.cases import is_flashing
from electrics.circuit.findings import CircuitFinding
from electrics.design.accessories import mid_sentence
from electrics.design.host_circuit import CircuitPlan
from electrics.job.hookup_plan import HookUpPlan, LeadPlan
from electrics.job.own_side import far_taps
from electrics.job.trials import judge_ways, try_way
from electrics.job.ways import Way
from electrics.vocabulary import Polarity, State
from electrics.ways.corrections import correction_methods
from electrics.ways.ranking import Judged
from hailstone.hookup.circuit_view import circuit_view
from hailstone.hookup.feed_path import common_of
from hailstone.hookup.matrix import Matrix
from hailstone.hookup.models import School
from hailstone.hookup.services import WAY
from hailstone.hookup.shapes import short_end
from hailstone.hookup.svg import LoadBar, load_bar
from hailstone.shop.switches import MORE, OWN, STRIP, switches
from hailstone.wording import hookup as wording
from hailstone.wording.circuit import finding_sentence
from hailstone.wording.correct import cured_sentence
from hailstone.wording.words import at_pin, counted, function_name, listed, state_name

SHOWN_WAYS = 4
"""Right ways that are shown; further ones only cost more parts."""
TRIED_WAYS = 4
"""Right ways of a lead that are tried even where the winner is known before, on accessories of few leads."""
FEW_LEADS = 3


@dataclass(frozen=True)
class ShownWay:
    """A way with its words."""

    way: Way
    judged: Judged
    name: str
    reason: str
    is_chosen: bool
    is_best: bool
    upsets: tuple[str, ...]
    cures: str

    @property
    def verdict(self) -> str:
        if not self.judged.is_right:
            return "Does not fit"
        if self.is_best:
            return "Fits best"
        return "Fits" if self.judged.trial else "Fits by logic, tried when it is taken:"


@dataclass(frozen=True)
class ShownLead:
    """A lead with the ways that fit, and those that do not: one of each kind of mistake."""

    plan: LeadPlan
    field: str
    wish: str
    fitting: tuple[ShownWay, ...]
    losing: tuple[ShownWay, ...]
    nearest: str

    fuses: tuple[float, ...] = ()
    """Ratings of the fuses that are fitted for it [A]."""
    wires: str = ""
    """The sizes of the wires that feed it."""

    @property
    def has_losing_choice(self) -> bool:
        return any(item.is_chosen for item in self.losing)


@dataclass(frozen=True)
class ShownCircuit:
    """A factory circuit with its load bar."""

    plan: CircuitPlan
    name: str
    bar: LoadBar | None
    assumed: str


def shown_leads(plan: HookUpPlan) -> list[ShownLead]:
    """Every lead with its ways in order of merit."""
    return [_lead(plan, lead) for lead in plan.leads]


def best_ways(leads: Iterable[ShownLead]) -> dict[str, str]:
    """The best way on the circuit for every lead that has none yet, by its id."""
    return {lead.plan.lead.id: lead.fitting[0].way.key for lead in leads if lead.plan.chosen is None and lead.fitting}


def shown_circuits(plan: HookUpPlan) -> list[ShownCircuit]:
    """Every tapped circuit with its load bar."""
    return [
        ShownCircuit(
            each,
            function_name(each.function),
            load_bar(each.load) if each.load else None,
            wording.assumed_sentence(each.function, each.assumed),
        )
        for each in plan.circuits
    ]


def picture(view: HookUpPlan, lead: ShownLead, state: State, *, lit: bool = True) -> dict[str, Any]:
    """The circuit of a lead as its plan is pictured, in one half of the flash, and the strip for it."""
    own = view.lead(lead.plan.lead.id)
    way, solved = own.shown, view.pictured
    has_it = solved is not None and own.lead.id in {each.lead.id for each in view.drawn_leads}
    states = view.pictured_states
    controls = tuple(each for each in (*STRIP, *MORE, *OWN) if any(each[0] in s.controls for s in states))
    drawn = None
    if solved is not None and view.drawn is not None and has_it:
        drawn = circuit_view(view, view.drawn, solved, own, state, lit=lit)
    return {
        "pictured_name": wording.way_name(way.candidate, way.wires) if way else "",
        "at": state_name(state),
        "at_id": str(state),
        "halves": [(True, "Lit half"), (False, "Dark half")] if is_flashing(state) and drawn else [],
        "lit": lit or not is_flashing(state),
        "strip": switches(state, controls, all_off=True, within=states),
        "is_unconnected": way is None,
        "circuit": drawn,
    }


@dataclass(frozen=True)
class ShownRow:
    """A lead in one line: what it wants, the way it has or would have, and how that stands."""

    lead: LeadPlan
    label: str
    wish: str
    way: str
    colour: str
    mark: str
    said: str
    is_here: bool


@dataclass(frozen=True)
class ShownUnit:
    """A lamp or part with its leads, and where its common lead goes."""

    name: str
    where: str
    rows: tuple[ShownRow, ...]
    common: str
    ground: str


def shown_units(view: HookUpPlan, plan: HookUpPlan, table: Matrix, here: str) -> list[ShownUnit]:
    """Every lamp and part, a line for each lead; `view` is the plan shown, `plan` the one decided."""
    wrong = {row.lead.lead.id: row.wrong for row in table.rows}
    keys = {place.key for lead in view.leads if lead.shown for place in lead.shown.tapped}
    found = []
    for unit in plan.accessory.units:
        leads = [lead for lead in plan.leads if lead.lead.unit == unit.id]
        if not leads:
            continue
        tail = common_of(view.drawn, unit, keys) if view.drawn is not None else None
        where = f"in place of {unit.instead_of}" if unit.instead_of else f"at {unit.place}" if unit.place else ""
        rows = tuple(_row(view.lead(lead.lead.id), lead, wrong, here) for lead in leads)
        name = unit.name[0].upper() + unit.name[1:]
        common = ("positive" if leads[0].lead.polarity is Polarity.GROUND else "ground") if tail else ""
        found.append(ShownUnit(name, where, rows, common, short_end(tail.end) if tail else ""))
    return found


def _row(shown: LeadPlan, lead: LeadPlan, wrong: Mapping[str, int], here: str) -> ShownRow:
    way, id = shown.shown, lead.lead.id
    name = wording.way_name(way.candidate, way.wires) if way else "nothing gives this yet"
    if way is not None and lead.chosen is None:
        name = f"would be: {name[0].lower()}{name[1:]}"
    name += "".join(f", {place}" for place in sorted({each.place for each in far_taps(shown)}))
    colour = way.tapped[0].wire.colour if way is not None and way.tapped else ""
    if way is None:
        mark, said = "open", "– no way"
    elif wrong.get(id) or way.candidate.refusals:
        mark, said = "odd", "≠ differs"
    else:
        mark, said = ("good", "✓ fits") if lead.chosen else ("open", "not chosen yet")
    label = lead.lead.label or lead.lead.id
    wish = wording.lead_wish(lead.lead)
    if wish.startswith(label):
        label, wish = wish, ""
    return ShownRow(lead, label, wish, name, colour, mark, said, id == here)


def caution(plan: HookUpPlan) -> str:
    """What to watch for with this accessory, and which wires of this vehicle that means."""
    accessory = plan.accessory
    mounted = [
        word
        for word, holds in (
            ("comes off", accessory.is_removable),
            ("swings or moves", accessory.is_swinging),
            ("is in spray", accessory.is_wet),
        )
        if holds
    ]
    text = wording.CAUTIONS[accessory.caution]
    if mounted:
        text += f" Usually the part that carries it {listed(mounted)}."
    if accessory.caution == "variable_voltage":
        wires = {
            place.wire.pin: f"{at_pin(place.wire.pin, is_at_fuse=place.is_at_fuse)} ({place.place})"
            for lead in plan.leads
            for way in lead.ways
            for place, source in zip(way.wires, way.candidate.sources, strict=True)
            if source.is_pulsed and place.wire.is_settled
        }
        if wires:
            text += f" Here {' and '.join(wires.values())} is pulsed: bulbs of their own, clear of it."
    return text


def joint_notes(lead: LeadPlan, school: School) -> list[str]:
    """What there is to say of a lead's joint and ground where they are made."""
    sized, notes = lead.sized, []
    if sized.joint is not None:
        notes += [wording.JOINT_ADVICE[rule] for rule in sized.joint.advice]
        if sized.better is not None:
            notes.append(f"Use {mid_sentence(sized.better.method.name)} here: {sized.better.method.good_for}.")
        if lead.shown is not None and (states := lead.shown.wakes()):
            notes.append(wording.wakes_sentence(states))
    notes += [wording.GROUND_ADVICE[rule] for rule in sized.ground.advice]
    if lead.run.ground != school.ground:
        notes.append("Your shop default is another ground.")
    return notes


def cure_sentence(upsets: Iterable[CircuitFinding], school: School) -> str:
    """The shop's way of curing lamps that are taken for dead; empty where none are."""
    if not {"flash_rate", "outage_warning"} & {finding.rule for finding in upsets}:
        return ""
    method = correction_methods()[school.correction]
    return (
        f"The shop cures this by: {method.name[0].lower() + method.name[1:]} ({method.good_for}; {method.against})."
    )


def _lead(plan: HookUpPlan, lead: LeadPlan) -> ShownLead:
    at_least = TRIED_WAYS if len(plan.leads) <= FEW_LEADS else 0
    ranked = judge_ways(plan.bench, lead.lead, lead.lamps, lead.each_a, lead.ways, at_least=at_least)

    def shown(way: Way, judged: Judged) -> ShownWay:
        wires = [place.wire for place in way.wires]
        is_chosen = lead.chosen is not None and way.key == lead.chosen.key
        if is_chosen and judged.trial is None:
            judged = Judged(judged.candidate, try_way(plan.bench, lead.lead, lead.lamps, lead.each_a, way))
        return ShownWay(
            way,
            judged,
            wording.way_name(way.candidate, way.wires),
            wording.way_reason(judged, wires, lead.lead, plan.accessory, plan.scenarios),
            is_chosen,
            way.key == ranked[0][0].key,
            tuple(finding_sentence(finding) for finding in judged.upsets) if judged.is_right else (),
            cured_sentence(finding.rule for finding in judged.upsets) if judged.is_right else "",
        )

    chosen = next((pair for pair in ranked if lead.chosen is not None and pair[0].key == lead.chosen.key), None)
    right = [pair for pair in ranked if pair[1].is_right]
    fitting = right[:SHOWN_WAYS]
    wrong = [pair for pair in ranked if not pair[1].is_right]
    plain = [pair for pair in wrong if _is_plain(pair[0])]
    losing = plain + [pair for pair in wrong if pair not in plain][:SHOWN_WAYS]
    if chosen is not None:
        if chosen[1].is_right and chosen not in fitting:
            fitting.append(chosen)
        elif not chosen[1].is_right and chosen not in losing:
            losing.insert(0, chosen)
    least = next((pair for pair in wrong if not pair[1].candidate.refusals), None) if not right else None
    return ShownLead(
        lead,
        WAY + lead.lead.id,
        wording.lead_wish(lead.lead),
        tuple(shown(*pair) for pair in fitting),
        tuple(shown(*pair) for pair in losing),
        _nearest(least) if least else "",
        plan.fuses_a(lead.lead.id),
        listed(each.name for each in plan.feed_wires(lead.lead.id)),
    )


def _is_plain(way: Way) -> bool:
    """Direct from one wire of the vehicle: the mistake that is made first."""
    return len(way.wires) == 1 and way.candidate.form.parts == 0 and bool(way.tapped)


def _nearest(pair: tuple[Way, Judged]) -> str:
    way, judged = pair
    name = wording.way_name(way.candidate, way.wires)
    states = ", ".join(state_name(state).lower() for state in judged.wrong[:3])
    more = f" and {counted(len(judged.wrong) - 3, 'more state')}" if len(judged.wrong) > 3 else ""
    return f"Nearest: {name[0].lower() + name[1:]}; wrong in {states}{more}."
