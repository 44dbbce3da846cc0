"""What sizes are worked out from: every number with its usual value, limits and source; any can be overridden.

An override that contradicts another one, or the load, is refused with the nearest that works.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass

from electrics.design.joints import SLEEVE_FACTOR
from electrics.design.run import AIM_SHARE, FUSE_FACTOR, NEVER_OVER_SHARE, RunRules
from electrics.design.sizing import COIL_OHM, CONTACT_FACTOR, CURRENT_MARGIN, REVERSE_V, SLEEVE_K_PER_W
from electrics.errors import FactError
from electrics.reference.conductor import HOT_C, Conductor
from electrics.reference.fuses import fuses
from electrics.reference.usual import running_v

__all__ = ["INPUTS", "Assumed", "Input", "assume", "check_fuse"]


@dataclass(frozen=True)
class Input:
    """A number that sizes are worked out from.

    Attributes
    ----------
    low, high : float
        What can be, in `unit`.
    source : str
        Where its usual value comes from.
    """

    id: str
    unit: str
    low: float
    high: float
    source: str


INPUTS: tuple[Input, ...] = (
    Input("load_a", "A", 0.001, 30, "brief, or measured on the bench"),
    Input("voltage_v", "V", 5, 32, "running voltage, common practice"),
    Input("hot_c", "°C", -40, 125, "common practice"),
    Input("aim_percent", "%", 0.5, 10, "common practice"),
    Input("most_drop_v", "V", 0.05, 2, "common practice"),
    Input("fuse_factor", "×", 1, 3, "common practice"),
    Input("fuse_a", "A", 1, 40, "smallest standard fuse, ISO 8820-3 (from memory)"),
    Input("diode_margin", "×", 1, 5, "common practice"),
    Input("reverse_v", "V", 50, 1000, "ISO 16750-2, ISO 7637-2 (from memory)"),
    Input("sleeve_k_per_w", "K/W", 5, 200, "common practice"),
    Input("contact_factor", "×", 1, 3, "common practice"),
    Input("sleeve_factor", "×", 1, 3, "common practice"),
    Input("coil_ohm", "ohm", 10, 2000, "ISO 7588 kind parts (from memory)"),
)
"""Every input, in the order it is shown."""

_BY_ID = {each.id: each for each in INPUTS}


@dataclass(frozen=True)
class Assumed:
    """The inputs of one lead: usual values, and what stands in their place.

    Attributes
    ----------
    usual : mapping of str to float
        By input; `fuse_a` has no usual value before the load and the wire are known.
    overrides : mapping of str to float
        Those that differ, by input.
    """

    usual: Mapping[str, float]
    overrides: Mapping[str, float]

    def __getitem__(self, id: str) -> float:
        return self.overrides.get(id, self.usual[id])

    def is_overridden(self, *ids: str) -> bool:
        """Whether any of these was overridden."""
        return any(id in self.overrides for id in ids)

    @property
    def rules(self) -> RunRules:
        """What a run of wire is judged by."""
        return RunRules(
            aim_v=self["aim_percent"] / 100 * self["voltage_v"],
            most_v=self["most_drop_v"],
            fuse_factor=self["fuse_factor"],
            fuse_a=self.overrides.get("fuse_a"),
        )


def assume(load_a: float, system_v: int, overrides: Mapping[str, float]) -> Assumed:
    """The inputs for a lead's sizes.

    Parameters
    ----------
    load_a : float
        What the lead draws [A].
    system_v : int
        6, 12 or 24 [V].
    overrides : mapping of str to float
        By input, in its unit.

    Returns
    -------
    Assumed

    Raises
    ------
    FactError
        An unknown input, a value that cannot be, or two overrides that contradict each other; `.field` is the input.
    """
    for id, value in overrides.items():
        if id not in _BY_ID:
            raise FactError(id, f"There is no input “{id}”. Inputs are: {', '.join(_BY_ID)}.")
        one = _BY_ID[id]
        if not one.low <= value <= one.high:
            raise FactError(id, f"{value:g} {one.unit} cannot be. Expected {one.low:g} to {one.high:g} {one.unit}.")
    voltage_v = running_v(system_v)
    usual = {
        "load_a": load_a,
        "voltage_v": voltage_v,
        "hot_c": HOT_C,
        "aim_percent": 100 * AIM_SHARE,
        "most_drop_v": round(NEVER_OVER_SHARE * voltage_v, 4),
        "fuse_factor": FUSE_FACTOR,
        "diode_margin": CURRENT_MARGIN,
        "reverse_v": REVERSE_V[system_v],
        "sleeve_k_per_w": SLEEVE_K_PER_W,
        "contact_factor": CONTACT_FACTOR,
        "sleeve_factor": SLEEVE_FACTOR,
        "coil_ohm": COIL_OHM[system_v],
    }
    found = Assumed(usual, {id: value for id, value in overrides.items() if value != usual.get(id)})
    rules = found.rules
    if found.is_overridden("aim_percent", "most_drop_v", "voltage_v") and rules.aim_v > rules.most_v * (1 + 1e-9):
        field = next(id for id in ("aim_percent", "most_drop_v", "voltage_v") if id in found.overrides)
        raise FactError(
            field,
            f"An aim of {found['aim_percent']:g} % of {found['voltage_v']:g} V is {rules.aim_v:.2f} V, more than the "
            f"{rules.most_v:.2f} V that a run may ever lose. "
            f"Nearest: {100 * rules.most_v / found['voltage_v']:.1f} %.",
        )
    least_a = found["fuse_factor"] * found["load_a"]
    if rules.fuse_a is not None and rules.fuse_a < least_a:
        nearest = next((fuse.rating_a for fuse in fuses() if fuse.rating_a >= least_a), None)
        instead = f"Nearest: {nearest:g} A." if nearest else "Split the load."
        raise FactError(
            "fuse_a",
            f"A {rules.fuse_a:g} A fuse does not carry {found['fuse_factor']:g} × {found['load_a']:.2f} A. {instead}",
        )
    return found


def check_fuse(assumed: Assumed, conductor: Conductor, sizes: Iterable[Conductor]) -> None:
    """Refuse a fuse and a wire, both set by hand, of which one does not protect the other.

    Parameters
    ----------
    assumed : Assumed
    conductor : Conductor
        The size that was picked.
    sizes : iterable of Conductor
        All sizes of the same kind, thinnest first.

    Raises
    ------
    FactError
        With the nearest fuse and the nearest wire that work.
    """
    fuse_a = assumed.overrides.get("fuse_a")
    if fuse_a is None or fuse_a <= conductor.largest_fuse_a:
        return
    thicker = next((each for each in sizes if each.largest_fuse_a >= fuse_a), None)
    wire = f", or {thicker.name}" if thicker else ""
    raise FactError(
        "fuse_a",
        f"A {fuse_a:g} A fuse does not protect {conductor.name}. Nearest: {conductor.largest_fuse_a:g} A{wire}.",
    )
