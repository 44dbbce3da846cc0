"""What the Hook up page shows of a plan: ways in order of merit, truth table, circuit, load bars, sizes."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, replace
from typing import Any

from electrics.circuit.cases import is_flashing
from electrics.circuit.findings import Finding
from electrics.hookup.corrections import correction_methods
from electrics.hookup.judge import Judged
from electrics.hookup.trial import Trial
from electrics.job.hookup_plan import CircuitPlan, HookUpPlan, LeadPlan
from electrics.job.trying import judge_ways, try_way
from electrics.job.ways import Way
from electrics.signals import DARK
from electrics.vocabulary import State
from hailstone.hookup.circuit_view import circuit_view
from hailstone.hookup.models import School
from hailstone.hookup.services import WAY
from hailstone.hookup.svg import LoadBar, load_bar
from hailstone.shop.switches import MORE, OWN, STRIP, switches
from hailstone.wording import hookup as wording
from hailstone.wording.circuit import finding_sentence
from hailstone.wording.words import counted, function_name, listed, signal_name, state_name

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
    others: tuple[ShownWay, ...] = ()
    """Fitting ways that stand behind the chosen one, where there are several leads to look at."""

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
    found = [_lead(plan, lead) for lead in plan.leads]
    return found if plan.is_single else [_folded(lead) for lead in found]


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


def picture(plan: HookUpPlan, lead: ShownLead, state: State, school: School, *, lit: bool = True) -> dict[str, Any]:
    """Truth table and circuit of the way that is chosen, or would be; the circuit in one half of the flash."""
    own = lead.plan
    way = best_way(lead)
    if way is None:
        return {"table": _unconnected(plan, own), "is_unconnected": True, "circuit": None}
    trial = try_way(plan.bench, own.lead, own.lamps, own.each_a, way)
    states = tuple(trial.shows) if trial else way.candidate.states
    state = state if state in states else states[0]
    table = [_row(own, way, trial, each, is_at=each == state) for each in states]
    controls = tuple(each for each in (*STRIP, *MORE, *OWN) if any(each[0] in s.controls for s in states))
    return {
        "pictured_name": wording.way_name(way.candidate, [place.wire for place in way.wires]),
        "table": table,
        "at": state_name(state),
        "at_id": str(state),
        "halves": [(True, "Lit half"), (False, "Dark half")] if is_flashing(state) and trial else [],
        "lit": lit or not is_flashing(state),
        "strip": switches(state, controls, all_off=True, within=states),
        "is_solved": trial is not None,
        "hangs_on_variant": trial is not None
        and any(trial.seen_on[each] != plan.scenarios[0] for each in trial.wrong),
        "circuit": circuit_view(trial, own, way, state, lit=lit) if trial else None,
        "upsets": [finding_sentence(finding) for finding in trial.upsets] if trial else [],
        "cure": cure_sentence(trial.upsets, school) if trial else "",
    }


def _row(lead: LeadPlan, way: Way, trial: Trial | None, state: State, *, is_at: bool) -> tuple[object, ...]:
    """One state of the truth table, as the circuit shows it, else by logic; on a variant where that is wrong."""
    if trial is not None:
        wished, seen = lead.lead.wanted.signal(state, trial.seen_on[state]), trial.shows[state]
        is_wrong = state in trial.wrong
    else:
        _, seen, wished = way.candidate.difference(state)
        is_wrong = state in way.candidate.wrong
    return (
        str(state),
        state_name(state),
        signal_name(wished),
        signal_name(seen),
        not is_wrong,
        is_at,
        _rate(trial, state),
    )


def _unconnected(plan: HookUpPlan, lead: LeadPlan) -> list[tuple[object, ...]]:
    """What is wanted, against a lamp that nothing feeds yet."""
    wanted = [(each, lead.lead.wanted.signal(each, plan.scenarios[0])) for each in plan.states]
    return [
        (str(each), state_name(each), signal_name(wish), signal_name(DARK), wish == DARK, False, "")
        for each, wish in wanted
    ]


def best_way(lead: ShownLead) -> Way | None:
    """The way that pictures are of: the chosen one, else the best on the circuit."""
    return lead.plan.chosen or next((item.way for item in lead.fitting), None)


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
            place.wire.pin: f"pin {place.wire.pin} ({place.place})"
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
            notes.append(f"Here rather: {sized.better.method.name}. {sized.better.method.good_for.capitalize()}.")
        if lead.shown is not None and (states := lead.shown.wakes()):
            notes.append(wording.wakes_sentence(states))
    notes += [wording.GROUND_ADVICE[rule] for rule in sized.ground.advice]
    if lead.run.ground != school.ground:
        notes.append("The shop grounds otherwise.")
    return notes


def cure_sentence(upsets: Iterable[Finding], school: School) -> str:
    """The shop's way of curing lamps that are taken for dead; empty where none are."""
    if not {"flash_rate", "outage_warning"} & {finding.rule for finding in upsets}:
        return ""
    method = correction_methods()[school.correction]
    return (
        f"The shop cures this by: {method.name[0].lower() + method.name[1:]} ({method.good_for}; {method.against})."
    )


def _rate(trial: Trial | None, state: State) -> str:
    """How fast the lamps flash in a state; empty where nothing does."""
    rhythms = trial.simulation.flash(state).values() if trial else ()
    return next((f"{rhythm.per_minute:.0f}/min, {rhythm.word}" for rhythm in rhythms), "")


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
            wording.way_name(way.candidate, wires),
            wording.way_reason(judged, wires, lead.lead, plan.accessory, plan.scenarios),
            is_chosen,
            way.key == ranked[0][0].key,
            tuple(finding_sentence(finding) for finding in judged.upsets) if judged.is_right else (),
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
    )


def _folded(lead: ShownLead) -> ShownLead:
    """Only the chosen way in front, if it fits; the others behind it."""
    chosen = tuple(item for item in lead.fitting if item.is_chosen)
    others = tuple(item for item in lead.fitting if not item.is_chosen)
    return replace(lead, fitting=chosen, others=others) if chosen else lead


def _is_plain(way: Way) -> bool:
    """Straight on one wire of the vehicle: the mistake that is made first."""
    return len(way.wires) == 1 and way.candidate.form.parts == 0 and bool(way.tapped)


def _nearest(pair: tuple[Way, Judged]) -> str:
    way, judged = pair
    name = wording.way_name(way.candidate, [place.wire for place in way.wires])
    states = ", ".join(state_name(state).lower() for state in judged.wrong[:3])
    more = f" and {counted(len(judged.wrong) - 3, 'more state')}" if len(judged.wrong) > 3 else ""
    return f"Nearest: {name[0].lower() + name[1:]}; wrong in {states}{more}."
