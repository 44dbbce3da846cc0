"""Beliefs about a job's wires, cached by the readings they follow from."""

from __future__ import annotations

from functools import lru_cache

from electrics.errors import InputError
from electrics.formats.reading_text import parse_reading
from electrics.identify import belief as core
from electrics.identify.kinds import Side
from electrics.identify.plan import Step, next_steps, plan_ahead
from electrics.vocabulary import Arrangement, Control, Function, Instrument, Load, parse_state
from hailstone.identify.models import AccessPoint, Cell, Pin, Reading
from hailstone.jobs.models import Job, Vehicle


def beliefs(job: Job) -> dict[int, core.Belief]:
    """The belief about every access point of a job, by its id.

    Derived once for a loaded job: its facts do not change while one request works on it.
    """
    if not hasattr(job, "derived_beliefs"):
        points = list(job.points.all())
        found = _identify(tuple(_core_point(point) for point in points), job.arrangement, job.vehicle.lacks)
        job.derived_beliefs = dict(zip((point.id for point in points), found, strict=True))
    return job.derived_beliefs


def steps(job: Job, belief: core.Belief, current: core.Setup | None) -> tuple[Step, ...]:
    """What to measure next at one access point of a job."""
    return next_steps(
        belief,
        solo=not job.has_helper,
        current=current,
        computer_fed=job.vehicle.computer != Vehicle.Computer.NO,
    )


def steps_ahead(job: Job, belief: core.Belief, current: core.Setup) -> tuple[Step, ...]:
    """The next three states of a job's access point, decided at once."""
    return plan_ahead(
        belief,
        solo=not job.has_helper,
        current=current,
        computer_fed=job.vehicle.computer != Vehicle.Computer.NO,
    )


def setup_of(reading: Cell) -> core.Setup:
    """The column a stored reading, or a change of one, stands in."""
    return _setup(reading.state, reading.instrument, reading.load)


@lru_cache(maxsize=1024)
def _setup(state: str, instrument: str, load: str) -> core.Setup:
    return core.Setup(parse_state(state), Instrument(instrument), Load(load))


def evidence_of(pin: Pin, reading: Reading) -> core.Evidence | None:
    """A stored reading as evidence; None while it cannot be read."""
    try:
        parsed = parse_reading(reading.text, Instrument(reading.instrument))
    except InputError:
        return None
    return core.Evidence(pin.label, setup_of(reading), parsed, reading.supply_v, reading.against)


@lru_cache(maxsize=64)  # a belief holds thousands of small objects: more would only feed the garbage collector
def _identify(
    points: tuple[core.AccessPoint, ...], arrangement: str, not_fitted: frozenset[Control]
) -> tuple[core.Belief, ...]:
    known = Arrangement(arrangement) if arrangement else None
    return core.identify(points, arrangement=known, not_fitted=not_fitted)


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
        tuple(core.Wire(pin.label, pin.colour, _claims(point, pin)) for pin in pins),
        tuple(item for item in evidence if item is not None),
        point.kind,
        Side(point.side),
    )


def _claims(point: AccessPoint, pin: Pin) -> tuple[core.Claim, ...]:
    if not pin.claim:
        return ()
    return (core.Claim(Function(pin.claim), core.Origin(point.claims_origin), pin.claim_from or point.claims_from),)
