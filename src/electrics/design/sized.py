"""One lead's run with every size that follows, and the factory circuits that bear it."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

from electrics.design.forms import Form
from electrics.design.inputs import Assumed, assume, check_fuse
from electrics.design.joints import (
    GroundFit,
    JointFit,
    JointPlace,
    better_joint,
    fit_ground,
    fit_joint,
    ground_methods,
    joint_methods,
)
from electrics.design.load import HostLoad, host_load
from electrics.design.run import SHOP_RANGE_MM2, Run, WireOption, wire_options
from electrics.design.sizing import DiodeChoice, RelayChoice, check_part, choose_diode, choose_relay
from electrics.errors import FactError
from electrics.reference.bulbs import bulbs
from electrics.reference.conductor import Conductor, WireStandard
from electrics.reference.fuses import CONTINUOUS_SHARE, FuseRating

__all__ = ["CircuitFacts", "RunFacts", "SizedLead", "circuit_load", "part_problem", "size_lead"]


@dataclass(frozen=True)
class RunFacts:
    """What is known and chosen for one lead's run.

    Attributes
    ----------
    out_m, back_m : float or None
        Way out and way back [m]; None while not measured.
    size : str
        Picked by hand; empty for the thinnest that is right.
    overrides : mapping of str to float
        Of inputs, by input.
    shared_a : float
        What other leads send through the same way back [A].
    """

    out_m: float | None = None
    back_m: float | None = None
    standard: WireStandard = WireStandard.AWG
    size: str = ""
    joint: str = "crimp_butt"
    ground: str = "wire"
    overrides: Mapping[str, float] = field(default_factory=dict)
    shared_a: float = 0.0


@dataclass(frozen=True)
class CircuitFacts:
    """What is known of a factory circuit.

    Attributes
    ----------
    bulb : str
        The bulbs that stay on it; empty while not noted.
    wire_limit_a : float
        Largest fuse for its wire [A].
    measured_a : float or None
        Its present current by clamp, in place of the bulbs' [A].
    share : float
        Of its fuse's rating that may flow for long [-].
    """

    bulb: str = ""
    count: int | None = None
    fuse_a: float | None = None
    wire_limit_a: float = 5.0
    measured_a: float | None = None
    share: float = CONTINUOUS_SHARE


@dataclass(frozen=True)
class SizedLead:
    """All sizes of a lead; None where a fact is missing or nothing fits.

    Attributes
    ----------
    problem : str
        Why relay or diode could not be chosen; empty when they were.
    faults : tuple of str
        Rule ids: `no_wire`, `drop`, `no_fuse`, `joint`, `ground`, `part`.
    nearest : tuple of (str, float) or None
        With `no_wire`: the way out (`out_m`) or the load (`load_a`) that a wire could be found for.
    """

    assumed: Assumed
    options: tuple[WireOption, ...]
    option: WireOption | None
    joint: JointFit | None
    better: JointFit | None
    ground: GroundFit
    relay: RelayChoice | None
    diode: DiodeChoice | None
    problem: str
    faults: tuple[str, ...]
    nearest: tuple[str, float] | None = None

    @property
    def fuse(self) -> FuseRating | None:
        return self.option.fuse if self.option else None


def size_lead(
    facts: RunFacts,
    load_a: float,
    system_v: int,
    form: Form | None,
    place: JointPlace,
    host_wire: Conductor,
    *,
    ground_present_a: float = 0.0,
    is_filament: bool = False,
    keeps_feed: bool = False,
) -> SizedLead:
    """All sizes of one lead.

    Parameters
    ----------
    facts : RunFacts
    load_a : float
        What hangs on the lead [A].
    system_v : int
        6, 12 or 24 [V].
    form : Form or None
        Of the way that was chosen.
    place : Place
    host_wire : Conductor
        The factory wire that is joined.
    ground_present_a : float
        What the factory ground wire carries already, where it is joined [A].
    is_filament : bool
        The lead's lamps are filaments.
    keeps_feed : bool
        They stay on a feed of their own as well, a diode in each.

    Returns
    -------
    SizedLead

    Raises
    ------
    FactError
        Overrides that cannot be, or contradict each other; `.field` is the input.
    """
    assumed = assume(load_a, system_v, facts.overrides)
    options = _options(facts, assumed)
    option = _chosen(options, facts.size)
    if option is not None and facts.size:
        check_fuse(assumed, option.conductor, (each.conductor for each in options))
    joint = better = None
    if option is not None:
        method, factor = joint_methods()[facts.joint], assumed["sleeve_factor"]
        joint = fit_joint(method, host_wire, option.conductor, place, sleeve_factor=factor)
        better = better_joint(joint, host_wire, option.conductor, place)
    ground = fit_ground(ground_methods()[facts.ground], place, ground_present_a + assumed["load_a"])
    relay, diode, problem = _parts(assumed, system_v, form, is_filament=is_filament, has_diode=keeps_feed)
    faults = {
        "no_wire": bool(options) and option is None,
        "drop": option is not None and "drop" in option.faults,
        "no_fuse": option is not None and "fuse" in option.faults,
        "joint": joint is not None and bool(joint.warnings),
        "ground": bool(ground.warnings),
        "part": bool(problem),
    }
    return SizedLead(
        assumed,
        options,
        option,
        joint,
        better,
        ground,
        relay,
        diode,
        problem,
        tuple(rule for rule, is_broken in faults.items() if is_broken),
        _nearest(facts, assumed, options) if faults["no_wire"] else None,
    )


def circuit_load(
    facts: CircuitFacts, added_a: float, voltage_v: float, *, added_filament_a: float = 0.0
) -> HostLoad | None:
    """A factory circuit with what is added; None while bulbs or fuse are not known."""
    if facts.fuse_a is None or ((facts.count is None or not facts.bulb) and facts.measured_a is None):
        return None
    bulb = bulbs()[facts.bulb] if facts.bulb else next(iter(bulbs()))
    return host_load(
        bulb,
        facts.count or 0,
        added_a,
        facts.fuse_a,
        facts.wire_limit_a,
        voltage_v,
        present_a=facts.measured_a,
        share=facts.share,
        added_filament_a=added_filament_a,
    )


def _options(facts: RunFacts, assumed: Assumed) -> tuple[WireOption, ...]:
    if facts.out_m is None or facts.back_m is None:
        return ()
    run = Run(facts.out_m, facts.back_m, assumed["load_a"], assumed["voltage_v"], facts.shared_a)
    return wire_options(run, facts.standard, assumed["hot_c"], assumed.rules)


def _chosen(options: Sequence[WireOption], size: str) -> WireOption | None:
    """The size that was picked, else the thinnest stocked one that passes."""
    by_size = {option.conductor.size: option for option in options}
    if size in by_size:
        return by_size[size]
    right = [option for option in options if option.is_right and option.conductor.area_mm2 >= SHOP_RANGE_MM2]
    return right[0] if right else None


def _nearest(facts: RunFacts, assumed: Assumed, options: Sequence[WireOption]) -> tuple[str, float] | None:
    """What the thickest wire allows: less load where its fuse is too small, else a shorter run."""
    thickest, load_a = options[-1].conductor, assumed["load_a"]
    most_a = thickest.largest_fuse_a / assumed["fuse_factor"]
    if load_a > most_a:
        return "load_a", most_a
    per_m = load_a * thickest.ohm_per_m(assumed["hot_c"])
    back_v = (load_a + facts.shared_a) * thickest.ohm_per_m(assumed["hot_c"]) * (facts.back_m or 0.0)
    out_m = (assumed.rules.aim_v - back_v) / per_m
    return ("out_m", out_m) if out_m > 0 else None


def part_problem(
    load_a: float, system_v: int, form: Form, overrides: Mapping[str, float], *, is_filament: bool = False
) -> str:
    """Why no relay or diode is sold for this load [A]; empty where one is.

    Empty as well where the overrides contradict each other: that is said where they are typed in.
    """
    try:
        assumed = assume(load_a, system_v, overrides)
    except FactError:
        return ""
    return _parts(assumed, system_v, form, is_filament=is_filament)[2]


def _parts(
    assumed: Assumed, system_v: int, form: Form | None, *, is_filament: bool, has_diode: bool = False
) -> tuple[RelayChoice | None, DiodeChoice | None, str]:
    """Relay and diode of a form, and why there is none."""
    relay: RelayChoice | None = None
    diode: DiodeChoice | None = None
    try:
        if form is not None and "relay" in form.brings:
            relay = choose_relay(
                assumed["load_a"],
                system_v,
                factor=assumed["contact_factor"],
                coil_ohm=assumed["coil_ohm"],
                is_filament=is_filament,
            )
        if form is not None:
            for part in form.brings:
                check_part(part, 0.0 if form.led_a else assumed["load_a"], system_v)
        if has_diode or (form is not None and "diode" in form.brings):
            diode = choose_diode(
                relay.coil_a if relay and not has_diode else assumed["load_a"],
                system_v,
                margin=assumed["diode_margin"],
                reverse_v=assumed["reverse_v"],
                k_per_w=assumed["sleeve_k_per_w"],
            )
    except FactError as error:
        return relay, diode, str(error)
    return relay, diode, ""
