"""Sizes diodes and relays; each number with its rule and source."""

from __future__ import annotations

from dataclasses import dataclass
from math import log

import numpy as np

from electrics.circuit.filament import Filaments
from electrics.design.load import INRUSH_FACTOR
from electrics.errors import FactError
from electrics.reference.conductor import ALPHA_20_PER_K
from electrics.reference.parts import ListedDiode, diodes, modules
from electrics.reference.usual import running_v

__all__ = ["COIL_OHM", "DiodeChoice", "RelayChoice", "check_part", "choose_diode", "choose_relay"]

CURRENT_MARGIN = 1.5
"""A diode is rated for at least this many times the lamp's current (common practice)."""
REVERSE_V = {6: 200.0, 12: 200.0, 24: 600.0}
"""Reverse voltage to bear [V]: load dump (ISO 16750-2) on 12 V, pulse 1 (ISO 7637-2) on 24 V (from memory)."""
SLEEVE_K_PER_W = 45.0
"""Rise of a diode in a shrink sleeve: 1.8 W makes 70 to 90 K (common practice)."""
SLEEVE_C, LOOM_C, AROUND_C = 125.0, 85.0, 35.0
"""What an adhesive-lined sleeve bears, what a loom beside it bears (makers' figures, from memory), and the air behind
a trim panel in summer (estimate) [C]."""
COIL_OHM = {6: 21.0, 12: 85.0, 24: 350.0}
"""Coil of a small lamp relay (ISO 7588 kind parts, from memory; 6 V in proportion) [ohm]."""
PULL_IN_SHARE, PULL_IN_C = 8.0 / 12.0, 23.0
"""A relay pulls in by two thirds of its nominal voltage at 23 C (ISO 7588 kind parts, from memory)."""
CONTACT_FACTOR = 1.25
"""A contact is rated for at least this many times its load (common practice)."""
CONTACT_A = (20.0, 30.0, 40.0, 70.0)
"""Contact ratings as sold [A] (common practice)."""
MAKES = 3.0
"""A contact makes three times its rating without welding: 120 A on 40 A (ISO 7588 kind parts, from memory) [-]."""
MOST_A = 60.0


@dataclass(frozen=True)
class DiodeChoice:
    """A diode for a lamp feed.

    Attributes
    ----------
    drop_v : float
        At the lamp's current [V].
    heat_w, rise_k : float
        What it turns into heat, and how much warmer it gets in a shrink sleeve [W], [K].
    light_lost : float
        Share of a filament's light that the drop costs [-].
    """

    diode: ListedDiode
    drop_v: float
    heat_w: float
    rise_k: float
    light_lost: float

    @property
    def is_hot(self) -> bool:
        """Whether it gets too hot to be tied into a harness: it needs air around it."""
        return AROUND_C + self.rise_k > LOOM_C


@dataclass(frozen=True)
class RelayChoice:
    """A relay for a load.

    Attributes
    ----------
    contact_a : float
        Rating of the contact to take [A].
    coil_a : float
        What the coil adds to the circuit that drives it, at running voltage [A].
    pull_in_v, pull_in_hot_v : float
        At 23 C, and with the coil at 85 C, where copper has more resistance [V].
    """

    contact_a: float
    coil_ohm: float
    coil_a: float
    pull_in_v: float
    pull_in_hot_v: float


def choose_diode(
    load_a: float,
    system_v: int,
    *,
    is_suppressed: bool = False,
    margin: float = CURRENT_MARGIN,
    reverse_v: float | None = None,
    k_per_w: float = SLEEVE_K_PER_W,
) -> DiodeChoice:
    """The smallest generic diode rated for a lamp's current and the vehicle's surges.

    Parameters
    ----------
    load_a : float
        Continuous current [A].
    system_v : int
        6, 12 or 24 [V].
    is_suppressed : bool
        A suppressor stands before it: a 60 V Schottky will do, with half the drop.
    margin : float
        Rating over the current [-].
    reverse_v : float, optional
        To bear, in place of the system's [V].
    k_per_w : float
        Rise in its sleeve [K/W].

    Returns
    -------
    DiodeChoice

    Raises
    ------
    FactError
        No generic diode bears it, or none that its sleeve bears.
    """
    _check(load_a)
    voltage_v = running_v(system_v)
    least_v = REVERSE_V[system_v] if reverse_v is None else reverse_v
    fitting = [
        row
        for row in diodes()
        if row.rated_a >= margin * load_a
        and (row.reverse_v >= least_v or (is_suppressed and row.family == "schottky" and system_v <= 12))
    ]
    if not fitting:
        raise FactError(
            "load_a",
            f"No generic diode bears {margin:g} times {load_a:g} A here. Split the load, or use a relay.",
        )
    diode = min(
        fitting, key=lambda row: (row.family != "schottky" if is_suppressed else False, row.rated_a, row.reverse_v)
    )
    saturation, slope, series = diode.model()
    drop = slope * log(load_a / saturation + 1) + load_a * series
    filament = Filaments(np.array([voltage_v]), np.array([load_a]), np.array([2800.0]))
    light = float(filament.light(filament.heat(np.array([voltage_v - drop])))[0])
    heat_w = drop * load_a
    if AROUND_C + heat_w * k_per_w > SLEEVE_C:
        raise FactError(
            "sleeve_k_per_w",
            f"At {load_a:g} A a {diode.part} turns {heat_w:.1f} W into heat and gets {heat_w * k_per_w:.0f} K warmer "
            f"in a sleeve, which bears {SLEEVE_C - AROUND_C:.0f} K. Use a relay, split the load over several diodes, "
            "or mount it in open air or on a heat sink and state its K/W.",
        )
    return DiodeChoice(diode, drop, heat_w, heat_w * k_per_w, 1 - light)


def choose_relay(
    load_a: float,
    system_v: int,
    *,
    factor: float = CONTACT_FACTOR,
    coil_ohm: float | None = None,
    is_filament: bool = False,
) -> RelayChoice:
    """A relay whose contact carries a load with 25 % to spare, and can make the inrush of cold filaments.

    Parameters
    ----------
    load_a : float
        Through its contact [A].
    system_v : int
        6, 12 or 24 [V].
    factor : float
        Rating of the contact over its load [-].
    coil_ohm : float, optional
        In place of the usual coil [ohm].
    is_filament : bool
        The load is filaments.

    Returns
    -------
    RelayChoice

    Raises
    ------
    FactError
        No relay of this kind bears it.
    """
    _check(load_a)
    voltage_v = running_v(system_v)
    least_a = max(factor * load_a, INRUSH_FACTOR * load_a / MAKES if is_filament else 0.0)
    contact = next((rating for rating in CONTACT_A if rating >= least_a), None)
    if contact is None:
        raise FactError("load_a", f"No lamp relay bears {load_a:g} A. Split the load over two.")
    pull_in = PULL_IN_SHARE * system_v
    hotter = (1 + ALPHA_20_PER_K * (85.0 - 20.0)) / (1 + ALPHA_20_PER_K * (PULL_IN_C - 20.0))
    ohm = COIL_OHM[system_v] if coil_ohm is None else coil_ohm
    return RelayChoice(contact, ohm, voltage_v / ohm, pull_in, pull_in * hotter)


def check_part(part: str, load_a: float, system_v: int) -> None:
    """Refuse a part that is not sold for a system, or that does not bear a lead's current: FactError.

    What is made for every system is in no row, and never refused.

    Parameters
    ----------
    part : str
        By its id: `converter`, `timed_relay`.
    load_a : float
        On one of its outputs; 0 for a bulb that is the load itself [A].
    system_v : int
        6, 12 or 24 [V].
    """
    sold = [each for each in modules() if each.part == part]
    fitting = [each.output_a for each in sold if each.system_v == system_v]
    if sold and not fitting:
        systems = " and ".join(f"{each} V" for each in sorted({each.system_v for each in sold}))
        raise FactError(
            "system_v",
            f"Such a part is sold for {systems}, not for {system_v} V. Take another way, or another bulb.",
        )
    if load_a > max(fitting, default=MOST_A):
        raise FactError(
            "load_a",
            f"{load_a:g} A are more than the {max(fitting):g} A that its output bears on {system_v} V. "
            "Split the lamps, or let it drive a relay.",
        )


def _check(load_a: float) -> None:
    if not 0.001 <= load_a <= MOST_A:
        raise FactError("load_a", f"{load_a:g} A is no lamp load. Expected 0.001 to {MOST_A:g} A.")
