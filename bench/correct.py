"""Cures tried on vehicles that the tool was not told of: other thresholds, wiring and bulbs than it assumes."""

from __future__ import annotations

import random
import time
from collections import Counter
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass, replace

from electrics.circuit.elements import ComputerOutput, Flasher, Ground, Lamp, Wire
from electrics.circuit.network import Network
from electrics.correct.flasher import KINDS, believe_flasher, flasher_questions
from electrics.design.accessories import accessories
from electrics.design.units_of_facts import unit_facts_of
from electrics.document.decisions import HookUpDecisions
from electrics.document.job import JobFacts, Wish
from electrics.document.places import AccessPoint, PlaceFacts, Side
from electrics.document.places import Wire as Pin
from electrics.document.vehicle import Computer, FlasherKind, VehicleFacts
from electrics.inference.questions import SLIP
from electrics.job.added import accessory_of
from electrics.job.correction import correct, effects_of, try_proposal, with_cure
from electrics.job.plan import Plan, plan
from electrics.job.sets import first_set
from electrics.job.trials import forget, try_design
from electrics.lighting.description import FactoryCircuit
from electrics.vocabulary import Arrangement, Function

SEED = 12
SWAPS = {
    Arrangement.SEPARATE: ("led_bulbs", "separate_tail_lamps"),
    Arrangement.COMBINED: ("led_bulbs_combined", "combined_tail_lamps"),
}


@dataclass(frozen=True)
class Tally:
    """Vehicles on which the first cure left nothing beyond what it said, those where none was needed or refused."""

    held: int
    failed: int
    none_needed: int
    refused: int

    @property
    def share(self) -> float:
        return self.held / max(self.held + self.failed, 1)


def swaps(count: int) -> Tally:
    """The first cure on `count` generated vehicles with LED swaps."""
    with ProcessPoolExecutor(2) as pool:
        found = Counter(pool.map(_one, range(count), chunksize=4))
    return Tally(found["held"], found["failed"], found["none"], found["refused"])


def largest_ms() -> tuple[float, float, float]:
    """Effects of LED bulbs all round, the first cure that passes, and all cures, each cold [ms]."""
    rng = random.Random(SEED)
    forget()
    found = _planned(FlasherKind.ELECTRONIC, Arrangement.SEPARATE, 12, "led_bulbs", FlasherKind.ELECTRONIC)
    rng.random()
    started = time.perf_counter()
    result = correct(found)
    effects = time.perf_counter()
    tried = []
    first = 0.0
    for proposal in result.open:
        if proposal.decision is not None:
            tried.append(try_proposal(found, proposal, result.before))
            first = first or time.perf_counter()
    return tuple(1e3 * (at - started) for at in (effects, first, time.perf_counter()))  # type: ignore[return-value]


def first_set_ms() -> float:
    """Effects of LED bulbs all round that are in backward, and the first set that ends everything, cold [ms]."""
    found = _planned(FlasherKind.ELECTRONIC, Arrangement.SEPARATE, 12, "led_bulbs", FlasherKind.ELECTRONIC)
    units = tuple(unit_facts_of(replace(unit, turned=True)) for unit in accessory_of(found.facts).units)
    facts = replace(found.facts, units=units)
    ways = {lead.lead.id: lead.shown.key for lead in plan(facts).hookup.leads if lead.shown}
    found = plan(replace(facts, hookup=HookUpDecisions(ways)))
    forget()
    started = time.perf_counter()
    several = first_set(found, correct(found))
    seconds = time.perf_counter() - started
    assert several is not None
    assert len(several[0]) > 1
    return 1e3 * seconds


def _one(n: int) -> str:
    rng = random.Random(SEED * 1000 + n)
    kind = rng.choice(KINDS)
    arrangement = rng.choice(list(SWAPS))
    system_v = rng.choice((6, 12, 12, 24) if kind is not FlasherKind.COMPUTER else (12, 12, 24))  # 6 V knew none
    swap = rng.choice(SWAPS[arrangement])
    found = _planned(kind, arrangement, system_v, swap, _looked_at(kind, rng))
    result = correct(found)
    rates = [effect for effect in result.before if effect.rule in ("flash_rate", "outage_warning")]
    if not rates:
        return "none" if _is_sound(found, kind, rng) else "failed"
    for proposal in result.open:
        tried = try_proposal(found, proposal, result.before)
        if tried is not None and tried.verdict in ("cures", "costs"):
            cured = plan(with_cure(found.facts, proposal.decision))
            said = {effect.key[:2] for effect in effects_of(cured)}
            return "held" if _is_sound(cured, kind, rng, said) else "failed"
    return "refused"


def _looked_at(kind: FlasherKind, rng: random.Random) -> FlasherKind:
    """What a person finds out by the looks that the tool asks for, mistakes among them."""
    answers: dict[str, str] = {}
    while (belief := believe_flasher(answers)).ask:
        question = next(each for each in flasher_questions() if each.id == belief.ask)
        chances = question.chances[str(kind)]
        slips = rng.random() < SLIP
        answers[belief.ask] = (
            rng.choice(question.answers) if slips else rng.choices(question.answers, weights=chances)[0]
        )
    return belief.best


def _planned(kind: FlasherKind, arrangement: Arrangement, system_v: int, swap: str, said: FlasherKind) -> Plan:
    rear = ["ground", "tail", *(["stop", "turn_{}"] if arrangement is Arrangement.SEPARATE else ["stop_turn_{}"])]
    places = []
    for side in ("left", "right"):
        functions = [Function(each.format(side)) for each in (*rear, "reverse")]
        pins = tuple(str(n) for n, _ in enumerate(functions))
        name = f"{side} rear lamp"
        point = AccessPoint(name, tuple(Pin(pin, "") for pin in pins), (), "rear_lamp", Side(side))
        said_pins = tuple((pin, function, "plain") for pin, function in zip(pins, functions, strict=True))
        places.append(PlaceFacts(name, point, tuple(f"{name} {pin}" for pin in pins), said_pins))
    computer = Computer.YES if said is FlasherKind.COMPUTER else Computer.NO
    vehicle = VehicleFacts(system_v, computer, arrangement, flasher=said)
    facts = JobFacts(vehicle, tuple(places), Wish(swap, count=accessories()[swap].count, each_a=0.3 * 12 / system_v))
    first = plan(facts)
    ways = {lead.lead.id: lead.shown.key for lead in first.hookup.leads if lead.shown}
    return plan(replace(facts, hookup=HookUpDecisions(ways)))


def _is_sound(found: Plan, kind: FlasherKind, rng: random.Random, said: set[tuple[str, str]] | None = None) -> bool:
    """Whether a design leaves nothing beyond what was said on a vehicle that is not quite as assumed."""
    is_changed = any(cure.cure == "flasher" for cure in found.facts.hookup.cures)
    is_computer = kind is FlasherKind.COMPUTER
    flasher = FlasherKind.FIXED if is_changed and not is_computer else kind
    known = found.hookup.bench
    computer = Computer.YES if is_computer else Computer.NO
    bench = replace(known, facts=replace(known.facts, flasher=flasher, computer=computer))
    hookup = found.hookup
    if hookup.design is None:
        return False
    taken = [(lead.lead, lead.shown) for lead in hookup.leads if lead.shown]
    factories = tuple(_other(factory, rng) for factory in bench.factories())
    seen = try_design(bench, hookup.design, taken, factories)
    if seen is None:
        return False
    left = {upset.key[:2] for upset in seen.upsets if upset.rule not in ("feed_drop", "ground_drop")}
    return left <= (said or set()) and not any(seen.wrong)


def _other(factory: FactoryCircuit, rng: random.Random) -> FactoryCircuit:
    """The same vehicle with another threshold, wiring and bulbs than the tool takes it for."""
    share = rng.uniform(0.35, 0.65)  # of a main bulb that the set may lack before one is missed
    wiring, elements = rng.uniform(0.7, 1.5), []
    for element in factory.network.elements:
        if isinstance(element, Flasher) and element.threshold_a is not None:
            main_a = 2 * (element.rated_a - element.threshold_a)
            element = replace(element, threshold_a=max(element.rated_a - share * main_a, 0.0))
        elif isinstance(element, ComputerOutput) and element.warn_below_a:
            element = replace(element, warn_below_a=element.warn_below_a * (1 + (0.5 - share) * 0.4))
        elif isinstance(element, Wire):
            element = replace(element, length_m=element.length_m * wiring)
        elif isinstance(element, Ground):
            element = replace(element, resistance_ohm=element.resistance_ohm * wiring)
        elif isinstance(element, Lamp):
            element = replace(element, rated_a=element.rated_a * rng.uniform(0.95, 1.05))
        elements.append(element)
    return replace(factory, network=Network(tuple(elements)))
