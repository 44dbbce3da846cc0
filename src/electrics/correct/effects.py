"""What a change does to a vehicle that nobody wanted: every finding once, with all its states and voltages."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace

from electrics.circuit.findings import BY_SIZE, RULES, CircuitFinding
from electrics.circuit.simulate import Simulation

__all__ = ["Effect", "causes_of", "effects_from", "worst_first"]


@dataclass(frozen=True)
class Effect:
    """One thing that is upset.

    Attributes
    ----------
    finding : Finding
        In its worst state.
    states : tuple of str
        Every state that it shows in, in the order of the table.
    volts : tuple of float
        The supply voltages that it shows at [V].
    subjects : tuple of str
        Everything that it is about.
    """

    finding: CircuitFinding
    states: tuple[str, ...]
    volts: tuple[float, ...]
    subjects: tuple[str, ...] = ()

    @property
    def key(self) -> tuple[str, str, str]:
        return _key(self.finding)

    @property
    def rule(self) -> str:
        return self.finding.rule

    @property
    def side(self) -> str:
        """Of a flash rate; empty elsewhere."""
        return self.finding.key[2]


def effects_from(tried: Iterable[tuple[float, Simulation, Sequence[CircuitFinding]]]) -> tuple[Effect, ...]:
    """Findings at several voltages as effects, worst first.

    Parameters
    ----------
    tried : iterable of (float, Simulation, sequence of Finding)
        Supply voltage [V], the solved circuit, and what was found on it that was not there before.
    """
    found: dict[tuple[str, str, str], Effect] = {}
    for volts, simulation, findings in tried:
        for finding in findings:
            states, key = _states(simulation, finding), _key(finding)
            known = found.get(key)
            if known is None:
                found[key] = Effect(finding, states, (volts,), (finding.subject,))
                continue
            worse = finding.rule in BY_SIZE and finding.value > known.finding.value
            found[key] = replace(
                known,
                finding=finding if worse else known.finding,
                states=tuple(dict.fromkeys((*known.states, *states))),
                volts=tuple(dict.fromkeys((*known.volts, volts))),
                subjects=tuple(dict.fromkeys((*known.subjects, finding.subject))),
            )
    said = {(effect.rule, effect.finding.subject) for effect in found.values()}
    return worst_first(
        effect
        for effect in found.values()
        if not any((cause, effect.finding.subject) in said for cause in SAID_BY.get(effect.rule, ()))
    )


ROADS = ("back_feed",)
"""What runs back runs through many wires: one effect, with all of them."""
SAID_BY = {
    "lit_amiss": ("wrong_road", "test_pulse_glow"),
    "dark_amiss": ("turned_round", "dark_by_fault"),
    "dim_amiss": ("dark_by_fault",),
}
"""What says nothing new about a lamp of which one of these is said."""


def _key(finding: CircuitFinding) -> tuple[str, str, str]:
    """What makes two findings one effect: an output of one side has one flash rate, whatever is switched on."""
    if finding.rule in ROADS:
        return finding.rule, "", ""
    rule, subject, side = finding.key
    return (rule, subject, "") if side and side in subject.split() else finding.key


def causes_of(effects: Sequence[Effect]) -> tuple[Effect, ...]:
    """Effects without those that only follow: an output that takes a lamp for dead also hurries."""
    warned = {effect.finding.subject for effect in effects if effect.rule in ("outage_warning", "given_up")}
    return tuple(each for each in effects if not (each.rule == "flash_rate" and each.finding.subject in warned))


def worst_first(effects: Iterable[Effect]) -> tuple[Effect, ...]:
    """What is dangerous before what is not, and of each what shows at most voltages and in most states."""
    return tuple(
        sorted(
            effects,
            key=lambda effect: (effect.finding.severity != "error", -len(effect.volts), -len(effect.states)),
        )
    )


def _states(simulation: Simulation, finding: CircuitFinding) -> tuple[str, ...]:
    """Every state that a finding shows in; its own where it is none of a single point."""
    look = RULES.get(finding.rule)
    if look is None:
        return (finding.state,)
    side = finding.key[2]
    states = [
        str(point.case.state)
        for point in simulation.points
        if any(each.subject == finding.subject for each in look(point))
        and (not side or side in str(point.case.state).split("+"))
    ]
    return tuple(dict.fromkeys(states)) or (finding.state,)
