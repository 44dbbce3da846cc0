"""A job's models as its document, which the core plans from. Keys of places and wires are the ids of their rows."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace
from functools import lru_cache
from typing import Any

from electrics.correct.flasher import believe_flasher
from electrics.design.units_of_facts import units_of
from electrics.document import places as core
from electrics.document.as_found import AsFound
from electrics.document.circuits import CircuitNotes, FedBy
from electrics.document.decisions import HookUpDecisions, Keeps, RunDecision
from electrics.document.job import JobFacts, Wish
from electrics.document.lamp import LampFacts, Light, Seen, Trial
from electrics.document.places import Claim, Evidence, Origin, PlaceFacts, Setup, Side, Wire
from electrics.document.units import UnitFacts
from electrics.document.vehicle import FlasherKind, Idle, VehicleFacts
from electrics.document.written import typed
from electrics.errors import InputError
from electrics.formats.reading_text import parse_reading
from electrics.job.plan import check_loads
from electrics.reference.conductor import WireStandard
from electrics.vocabulary import Function, Instrument, Load, parse_state
from hailstone.hookup.models import HookUp
from hailstone.identify.models import AccessPoint, Cell, Pin, Reading
from hailstone.jobs.models import Job
from hailstone.lamp.models import FittedLamp
from hailstone.layers.decisions import Decisions, decisions_of
from hailstone.layers.facts import jobs_with_facts
from hailstone.layers.naming import named, named_units
from hailstone.layers.refs import names_by_ref

__all__ = [
    "check_stored_loads",
    "concluded",
    "decided_of",
    "document_of",
    "evidence_of",
    "fitted_lamp",
    "flasher_of",
    "hookup_of",
    "job_facts",
    "lamp_facts",
    "place_facts",
    "setup_of",
    "unit_facts",
    "vehicle_facts",
    "wish_of",
]


def job_facts(job: Job) -> JobFacts:
    """All facts and decisions of a job, as they are loaded, places by their names of today."""
    return named(document_of(job), names_by_ref(job.points.all(), decisions_of(job).units))


def document_of(job: Job) -> JobFacts:
    """The same with places by reference (`hailstone.layers.refs`): a name is one fact."""
    return replace(decided_of(job), vehicle=vehicle_facts(job), places=place_facts(job), lamp=lamp_facts(job))


def decided_of(job: Job) -> JobFacts:
    """The document less vehicle, readings and bench: those keep their own history."""
    decided = decisions_of(job)
    return JobFacts(
        VehicleFacts(),
        (),
        wish_of(job),
        None,
        _decisions(hookup_of(job), decided),
        units=decided.units,
        distances={frozenset((first, second)): m for first, second, m in decided.distances},
        zones=decided.spots,
        complaint=job.complaint,
        as_found=typed(AsFound, job.as_found),
    )


def unit_facts(job: Job) -> tuple[UnitFacts, ...]:
    """What is fitted, one by one, places by their names of today; empty where the brief says it."""
    units = decisions_of(job).units
    return named_units(units, names_by_ref(job.points.all(), units))


def vehicle_facts(job: Job) -> VehicleFacts:
    """The vehicle of a job: what is said of it, and what the looks of its flasher come to."""
    return concluded(job.vehicle.said, job.vehicle.flasher_looks)


def concluded(said: VehicleFacts, looks: Mapping[str, str]) -> VehicleFacts:
    """What is said of a vehicle with what looks of its flasher come to, by `electrics.correct.flasher` test."""
    return replace(
        said,
        flasher=_flasher(said, looks),
        pilot=looks.get("pilot", ""),
        idle=IDLE.get(looks.get("off", ""), Idle.DARK),
        prongs=looks.get("prongs", ""),
    )


def flasher_of(job: Job) -> FlasherKind | None:
    """What flashes the turn lamps: as somebody said, else what looks and tests leave no doubt about."""
    return _flasher(job.vehicle.said, job.vehicle.flasher_looks)


def _flasher(said: VehicleFacts, looks: Mapping[str, str]) -> FlasherKind | None:
    if said.flasher or not looks:
        return said.flasher
    belief = believe_flasher(looks, said.computer)
    return belief.best if belief.is_sure else None


IDLE = {"blinks": Idle.PULSES, "glows": Idle.LEAK}
"""What a look at a lamp with everything off says of the outputs that feed it."""


def place_facts(job: Job) -> tuple[PlaceFacts, ...]:
    """The access points of a job with their readings; made once for a loaded job."""
    found: tuple[PlaceFacts, ...] | None = job.__dict__.get("place_facts")
    if found is None:
        found = job.__dict__["place_facts"] = tuple(
            PlaceFacts(str(point.id), _core_point(point), tuple(str(pin.id) for pin in point.pins.all()))
            for point in job.points.all()
        )
    return found


def wish_of(job: Job) -> Wish:
    """What a job adds."""
    also = tuple(kind for kind in job.also.split(",") if kind)
    return Wish(job.addition, also, job.own_leads, job.added_count, job.added_each_a)


def lamp_facts(job: Job) -> LampFacts | None:
    """The lamp to be fitted, as far as it was tried; None while none is laid out."""
    lamp = fitted_lamp(job)
    if lamp is None:
        return None
    trials = tuple(
        Trial(
            trial.plus.label,
            trial.minus.label,
            Seen(trial.seen),
            Light(trial.light) if trial.light else None,
            trial.amps_a,
            trial.fuse_a,
        )
        for trial in lamp.trials.all()
    )
    leads = lamp.leads.all()
    claims = tuple((lead.label, Function(lead.claim)) for lead in leads if lead.claim)
    return LampFacts(tuple(lead.label for lead in leads), trials, lamp.kind, claims)


def check_stored_loads(job_id: int) -> None:
    """Refuse what no lamp circuit carries, as it is stored now: FactError.

    Called inside the transaction that writes brief or bench test, it takes the write back.
    """
    job = jobs_with_facts().get(pk=job_id)
    units = units_of(unit_facts(job), place_facts(job), job.vehicle.said.system_v)
    check_loads(wish_of(job), lamp_facts(job), job.vehicle.said.system_v, units)


def fitted_lamp(job: Job) -> FittedLamp | None:
    """The job's lamp as it was laid out, if it was."""
    try:
        return job.lamp
    except FittedLamp.DoesNotExist:
        return None


def hookup_of(job: Job) -> HookUp:
    """The job's decisions, or fresh ones that are not saved yet."""
    try:
        return job.hookup
    except HookUp.DoesNotExist:
        return HookUp(job=job, changed_by=job.changed_by)


def setup_of(reading: Cell) -> Setup:
    """The column a stored reading, or a change of one, stands in."""
    return _setup(reading.state, reading.instrument, reading.load)


@lru_cache(maxsize=1024)
def _setup(state: str, instrument: str, load: str) -> Setup:
    return Setup(parse_state(state), Instrument(instrument), Load(load))


def evidence_of(pin: Pin, reading: Reading) -> Evidence | None:
    """A stored reading as evidence; None while it cannot be read."""
    try:
        parsed = parse_reading(reading.text, Instrument(reading.instrument))
    except InputError:
        return None
    return _evidence(pin.label, setup_of(reading), parsed, reading.supply_v, reading.against_label)


_evidence = lru_cache(maxsize=8192)(Evidence)
"""The same reading is the same object: what was weighed once is known again quickly."""


def _core_point(point: AccessPoint) -> core.AccessPoint:
    pins = list(point.pins.all())
    # what was measured twice with the same result counts twice
    evidence = [
        evidence_of(pin, reading)
        for pin in pins
        for reading in pin.readings.all()
        for _ in range(1 + reading.is_confirmed)
    ]
    return core.AccessPoint(
        point.name,
        tuple(Wire(pin.label, pin.colour, _claims(point, pin)) for pin in pins),
        tuple(item for item in evidence if item is not None),
        point.kind,
        Side(point.side),
        point.all_wires,
        frozenset((pin.label, setup_of(each)) for pin in pins for each in pin.readings.all() if each.is_repeated),
        point.zone,
    )


def _claims(point: AccessPoint, pin: Pin) -> tuple[Claim, ...]:
    if not pin.claim:
        return ()
    return (Claim(Function(pin.claim), Origin(point.claims_origin), pin.claim_from or point.claims_from),)


def _decisions(stored: HookUp, decided: Decisions) -> HookUpDecisions:
    labels = ((kind, place, what, label) for kind, place, what, label in stored.labels)
    return HookUpDecisions(
        dict(decided.ways),
        stored.override,
        Keeps(stored.keeps),
        _run(stored.run_of("", decided.runs)),
        {lead: _run(stored.run_of(lead, decided.runs)) for lead in decided.runs},
        {function: _notes(stored.circuit_of(function)) for function in stored.circuits},
        decided.cures,
        tuple(labels),
    )


def _run(values: dict[str, Any]) -> RunDecision:
    own = {"wire_standard": WireStandard(values["wire_standard"]), "overrides": dict(values["overrides"])}
    return RunDecision(**{**values, **own})


def _notes(values: dict[str, Any]) -> CircuitNotes:
    return CircuitNotes(**{**values, "fed_by": FedBy(values["fed_by"])})
