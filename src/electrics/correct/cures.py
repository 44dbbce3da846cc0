"""Cures, one class each in one registry: when each applies, how it is sized, what it costs and what it forbids.

A cure is proposed from a situation: what is upset, on which leads, on what kind of vehicle. Whether it cures is
seen by putting it into the design and trying that again.
"""

from __future__ import annotations

from abc import ABC, abstractmethod
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from math import inf

from electrics.correct.effects import Effect
from electrics.correct.resistor import Need, ResistorFit, fit_resistor
from electrics.lighting.vehicle import FlasherKind
from electrics.reference.functions import kind_of
from electrics.reference.mounts import mounts
from electrics.vocabulary import Function

__all__ = ["CURES", "Cure", "CureLead", "Proposal", "Side", "Situation", "proposals"]

FLASHES = ("flash_rate", "outage_warning")
"""What a missing load upsets."""


@dataclass(frozen=True)
class CureLead:
    """A lead of the design that flashes.

    Attributes
    ----------
    id : str
    function : Function
        Of the factory circuit that carries its lamp.
    side : str
        `left` or `right`.
    """

    id: str
    function: Function
    side: str

    @property
    def can_be_held(self) -> bool:
        """Whether its circuit burns steadily in some state: the brake on a combined lamp."""
        return kind_of(self.function).can_be_held


@dataclass(frozen=True)
class Side:
    """What watches one side, or one output, and what it is short of.

    Attributes
    ----------
    leads : tuple of CureLead
        Where a resistor can be fitted.
    threshold_a, load_a : float
        What is made up for, a margin beyond what is waited for, and what flows at the lowest running voltage [A].
    spare_a : float
        What its fuse allows beyond what flows [A].
    """

    name: str
    leads: tuple[CureLead, ...]
    threshold_a: float
    load_a: float
    spare_a: float = inf


@dataclass(frozen=True)
class Situation:
    """What a cure is proposed for."""

    effects: tuple[Effect, ...]
    system_v: int
    flasher: FlasherKind
    has_computer: bool
    sides: tuple[Side, ...]

    def has(self, *rules: str) -> bool:
        """Whether one of these rules is among the effects."""
        return any(effect.rule in rules for effect in self.effects)


@dataclass(frozen=True)
class Proposal:
    """A cure as it would be fitted here.

    Attributes
    ----------
    cure : str
        Id of its class.
    leads : tuple of str
        The leads that parts are fitted at.
    fit : ResistorFit or None
        Of a load resistor.
    refusal : str
        Why it must not be; empty where it may be tried.
    costs : tuple of str
        Ids of what stays or becomes worse with it, to be told.
    is_named : bool
        It is named and not computed.
    """

    cure: str
    leads: tuple[str, ...] = ()
    fit: ResistorFit | None = None
    refusal: str = ""
    costs: tuple[str, ...] = ()
    is_named: bool = False

    @property
    def mount(self) -> str:
        return self.fit.mount if self.fit else ""


class Cure(ABC):
    """One kind of cure."""

    id: str

    @abstractmethod
    def proposals(self, situation: Situation) -> Iterator[Proposal]:
        """How it would be fitted here; nothing where it does not apply."""


class FlasherChange(Cure):
    """A flasher that needs no load: both sides at once, without heat."""

    id = "flasher"

    def proposals(self, situation: Situation) -> Iterator[Proposal]:
        if not situation.has(*FLASHES):
            return
        if situation.flasher is FlasherKind.COMPUTER:
            yield Proposal(self.id, refusal="no_flasher")
        elif situation.flasher is not FlasherKind.FIXED:
            yield Proposal(self.id, costs=("nobody_told",))


class LoadResistor(Cure):
    """A resistor across the turn feed and ground, one for each lamp that was replaced."""

    id = "load_resistor"

    def proposals(self, situation: Situation) -> Iterator[Proposal]:
        short = [side for side in situation.sides if side.leads and side.load_a < side.threshold_a]
        if not short or not situation.has(*FLASHES):
            return
        leads = tuple(lead.id for side in short for lead in side.leads)
        is_held = any(lead.can_be_held for side in short for lead in side.leads)
        needs = [
            Need(
                side.threshold_a - side.load_a,
                most_a=side.spare_a,
                count=len(side.leads),
                is_held=is_held,
                system_v=situation.system_v,
            )
            for side in short
        ]
        hardest = max(needs, key=lambda need: need.threshold_a / need.count)
        for mount in mounts():
            fit = fit_resistor(hardest, mount=mount.id)
            if fit is None:
                yield Proposal(self.id, leads, refusal="no_window")
                return
            costs = ("nobody_told", "held_hot") if is_held else ("nobody_told", "hot")
            refusal = "" if fit.survives else "free_air" if mount.id == "free_air" else "too_hot"
            if mount.id == "free_air":  # the handbook's rule, whatever a case survives by its sheet
                refusal = "free_air"
            yield Proposal(self.id, leads, fit, refusal, costs)


class SeriesResistor(Cure):
    """What people try, and what never helps: the lamp starves and the flasher sees less."""

    id = "series_resistor"

    def proposals(self, situation: Situation) -> Iterator[Proposal]:
        if situation.has(*FLASHES):
            yield Proposal(self.id, refusal="in_series")


class Decoder(Cure):
    """A part made for the vehicle, where a computer tests its lamps."""

    id = "decoder"

    def proposals(self, situation: Situation) -> Iterator[Proposal]:
        if situation.has("outage_warning", "test_pulse_glow") or (
            situation.has("flash_rate") and situation.flasher is FlasherKind.COMPUTER
        ):
            yield Proposal(self.id, is_named=True)


class Coding(Cure):
    """The computer is told that there are LED lamps, by someone with the maker's tool."""

    id = "coding"

    def proposals(self, situation: Situation) -> Iterator[Proposal]:
        if situation.has_computer and situation.has(*FLASHES, "test_pulse_glow", "shut_off"):
            yield Proposal(self.id, is_named=True)


class OtherWay(Cure):
    """Another hook-up: what carries less on a factory fuse, or whose relay rests."""

    id = "other_way"

    def proposals(self, situation: Situation) -> Iterator[Proposal]:
        if situation.has("fuse_load", "blown_fuse", "coil_at_rest", "order_matters", "chatter", "shut_off"):
            yield Proposal(self.id, is_named=True)


class ShorterRoad(Cure):
    """Thicker wire, a better ground, a joint made again."""

    id = "better_road"

    def proposals(self, situation: Situation) -> Iterator[Proposal]:
        if situation.has("feed_drop", "ground_drop", "grounds_at_odds", "joint_loss", "wire_load"):
            yield Proposal(self.id, is_named=True)


class BlockingDiode(Cure):
    """A diode in the road that must be one-way, stripe to the lamp."""

    id = "diode"

    def proposals(self, situation: Situation) -> Iterator[Proposal]:
        if situation.has("wrong_road", "back_feed", "factory_lamp"):
            yield Proposal(self.id, is_named=True)


CURES: Sequence[Cure] = (
    FlasherChange(),
    LoadResistor(),
    BlockingDiode(),
    OtherWay(),
    ShorterRoad(),
    Decoder(),
    Coding(),
    SeriesResistor(),
)
"""Every cure, in the order that they are offered."""


def proposals(situation: Situation) -> tuple[Proposal, ...]:
    """What may be tried here and what is refused, in order."""
    return tuple(each for cure in CURES for each in cure.proposals(situation))
