"""Factory circuits that a job taps, with what its ways add to them and what goes."""

from __future__ import annotations

from collections import Counter, defaultdict
from collections.abc import Sequence
from dataclasses import replace
from math import inf

from electrics.design.host_circuit import CircuitPlan
from electrics.design.load import HostLoad
from electrics.design.sized import CircuitFacts, circuit_load
from electrics.design.sizing import COIL_OHM
from electrics.design.units import Lead
from electrics.document.circuits import FedBy
from electrics.document.job import JobFacts
from electrics.job.cures.registry import inserts_at
from electrics.job.layout import LeadDraft
from electrics.job.sites import group_key
from electrics.reference.bulbs import bulbs
from electrics.reference.conductor import WireStandard, conductor
from electrics.reference.functions import kind_of
from electrics.reference.fuses import CONTINUOUS_SHARE
from electrics.reference.habits import TOW_SIDE_A, TOW_TAIL_A, habit
from electrics.reference.usual import running_v, system_scale, usual_circuit
from electrics.vocabulary import Function

__all__ = ["circuits_of", "loaded_circuit", "stands_in"]


def circuits_of(facts: JobFacts, drafts: Sequence[LeadDraft]) -> tuple[CircuitPlan, ...]:
    """Every factory circuit that the ways tap, loaded with what they all add to it; a shared coil counts once."""
    added: dict[Function, float] = {}
    fresh: dict[Function, float] = defaultdict(float)
    taken: Counter[Function] = Counter()
    filaments: dict[Function, float] = {}
    elsewhere: set[Function] = set()
    system_v, coils = facts.vehicle.system_v, set()
    for draft in drafts:
        way = draft.shown
        if way is None:
            continue
        key = group_key(way, draft.lead)
        coil_a = running_v(system_v) / draft.run.overrides.get("coil_ohm", COIL_OHM[system_v])
        elsewhere.update(place.wire.function for place in way.tapped if not place.is_tow)
        if draft.lead.replaces:
            taken.update(dict.fromkeys((place.wire.function for place in way.tapped), draft.lead.lamps))
        inserts = inserts_at(draft.lead.id, facts.hookup.cures)
        load_a = draft.load_a + sum(insert.amps_a(running_v(system_v)) for insert in inserts)
        for function, amps_a in way.draws_a(load_a, 0.0 if key in coils else coil_a).items():
            added[function] = added.get(function, 0.0) + amps_a
            if way.lights_from(function):
                fresh[function] += 0.0 if stands_in(facts, draft.lead, draft.load_a, function) else draft.load_a
                if draft.lead.technology == "filament":
                    filaments[function] = filaments.get(function, 0.0) + amps_a
            else:
                fresh[function] += amps_a
        coils.add(key)
    found = []
    for function, added_a in added.items():
        is_tow = function not in elsewhere
        circuit = loaded_circuit(
            facts, function, added_a, filaments.get(function, 0.0), taken[function], is_tow=is_tow
        )
        bears_lamp = any(
            draft.shown.lights_from(function) and not stands_in(facts, draft.lead, draft.load_a, function)
            for draft in drafts
            if draft.shown is not None
        )
        found.append(replace(circuit, bears_lamp=bears_lamp, fresh_a=fresh[function], is_tow=is_tow))
    return tuple(found)


def stands_in(facts: JobFacts, lead: Lead, load_a: float, function: Function) -> bool:
    """Whether a lead's lamp takes the place of a factory lamp on a circuit, and draws no more than that did."""
    if not lead.replaces or function not in lead.wanted.functions:
        return False
    bulb = facts.circuit(function).host_bulb
    each_a = load_a / lead.lamps
    return bool(bulb) and each_a <= bulbs()[bulb].largest_current_a(running_v(facts.vehicle.system_v))


def loaded_circuit(
    facts: JobFacts,
    function: Function,
    added_a: float,
    filament_a: float,
    taken: int = 0,
    *,
    is_tow: bool = False,
) -> CircuitPlan:
    """A factory circuit with what is added: as it was noted, else as such a circuit usually is; `taken` are the
    bulbs that make way, measured or not. What a module feeds at a tow socket is held against that alone, whole."""
    notes, system_v = facts.circuit(function), facts.vehicle.system_v
    percent = notes.most_percent
    if is_tow and notes.fed_by is FedBy.COMPUTER:
        most_a = _tow_limit_a(facts, function)
        whole = HostLoad(0.0, added_a, most_a, inf, 0.0, 1.0, max(added_a - filament_a, 0.0))
        return CircuitPlan(function, notes, added_a, bears_lamp=False, load=whole, assumed={})
    measured_a = notes.measured_a
    if measured_a is not None and taken:
        usual = usual_circuit(function, system_v)
        bulb = notes.host_bulb or (usual.bulb if usual else "")
        gone_a = taken * bulbs()[bulb].largest_current_a(running_v(system_v)) if bulb else 0.0
        measured_a = max(measured_a - gone_a, 0.0)
    core = CircuitFacts(
        notes.host_bulb,
        None if notes.host_count is None else max(notes.host_count - taken, 0),
        notes.host_fuse_a,
        conductor(WireStandard.AWG, notes.host_wire).largest_fuse_a,
        measured_a,
        CONTINUOUS_SHARE if percent is None else percent / 100,
    )
    load = circuit_load(core, added_a, running_v(system_v), added_filament_a=filament_a)
    return CircuitPlan(function, notes, added_a, bears_lamp=False, load=load, assumed=facts.assumed_of(function))


def _tow_limit_a(facts: JobFacts, function: Function) -> float:
    """What the module of a tow socket carries of a function, as stated or usual [A]."""
    which = TOW_SIDE_A if kind_of(function).side else TOW_TAIL_A
    return habit(facts.vehicle.habits, which, 1 / system_scale(facts.vehicle.system_v))
