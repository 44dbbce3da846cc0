"""How long the search for a hook-up takes: the largest demo job, and a vehicle with 12 sources and 6 leads."""

from __future__ import annotations

import statistics
import time

from electrics.hookup.accessories import Lead, accessories
from electrics.hookup.forms import Source
from electrics.hookup.search import scenarios_of, search, source_levels, wanted_levels
from electrics.hookup.trial import node_of, try_out, vehicle_with
from electrics.hookup.wanted import parse_wanted
from electrics.signals import variants
from electrics.vocabulary import Arrangement, Function, Polarity

TWELVE = (
    Function.TAIL,
    Function.STOP,
    Function.TURN_LEFT,
    Function.TURN_RIGHT,
    Function.STOP_TURN_LEFT,
    Function.STOP_TURN_RIGHT,
    Function.REVERSE,
    Function.BATTERY,
    Function.IGNITION,
    Function.LOW_BEAM,
    Function.HIGH_BEAM,
    Function.DRL,
)
SIX = ("tail", "stop_turn_left", "stop_turn_right", "reverse", "stop", "tail and not reverse")


def search_ms(leads: tuple[Lead, ...], functions: tuple[Function, ...], *, tried: int = 2) -> float:
    """Median time of searching all leads and trying the best ways of each on the circuit [ms]."""
    scenarios = scenarios_of(Arrangement.COMBINED)
    times = []
    for _ in range(6):
        start = time.perf_counter()
        sources = [Source(str(function), source_levels(function, "", scenarios)) for function in functions]
        factory = vehicle_with(
            frozenset((function, variants(function)[0][0]) for function in functions), scenarios[0]
        )
        for lead in leads:
            for candidate in search(lead, sources, wanted_levels(lead, scenarios))[:tried]:
                nodes = [node_of(factory, Function(source.key)) for source in candidate.sources]
                try_out(candidate.form, lead, nodes, factory, scenarios[0])
        times.append(time.perf_counter() - start)
    return 1e3 * statistics.median(times[1:])


def largest_job() -> float:
    """The accessory with the most leads, on the circuits of a trailer socket with the front turn feeds [ms]."""
    leads = max((accessory.leads for accessory in accessories()), key=len)
    return search_ms(leads, TWELVE[:7], tried=1)


def large_vehicle() -> float:
    """Twelve sources, six leads [ms]."""
    leads = tuple(Lead(f"lead {n}", parse_wanted(text), Polarity.POSITIVE, "led", 0.3) for n, text in enumerate(SIX))
    return search_ms(leads, TWELVE, tried=1)
