"""The build sheet, made from the plan: runs to cut, joints to make, parts to lay out, steps in order.

Steps are ids in the order of work; their wording is the interface's.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass
from math import ceil

from electrics.hookup.forms import Form
from electrics.hookup.joints import JointFit
from electrics.hookup.sources import OWN
from electrics.reference.conductor import Conductor, conductors
from electrics.reference.fuses import Fuse

__all__ = ["STEPS", "CutRun", "LeadBuild", "Part", "cut_list", "parts", "spool_length_m"]

SLACK_M = 0.75
"""Extra on every run to pull and trim [m]: 60 to 90 cm (common practice)."""
SERVICE_LOOP_M = 0.25
"""Loop at each lamp, so that it can be taken off again [m] (estimate)."""

STEPS = (
    "make_safe",
    "open_up",
    "measure",
    "route",
    "ground",
    "join",
    "fuse",
    "test_loose",
    "secure",
    "close",
    "test_again",
)
"""The order of work (common practice); ground before feed, so that nothing hangs live on its return."""


@dataclass(frozen=True)
class LeadBuild:
    """One lead as it is built.

    Attributes
    ----------
    lead : str
        Its name; empty where there is only one.
    lamps, taps : int
        Lamps on it, and factory wires that are joined [-].
    own : tuple of str
        Its sources that are no wire of the vehicle, by key.
    load_a : float
        Through its wire [A].
    out_m, back_m : float
        Routed length of feed and ground [m].
    """

    lead: str
    lamps: int
    taps: int
    form: Form
    conductor: Conductor
    load_a: float
    fuse: Fuse
    joint: JointFit
    out_m: float
    back_m: float
    own: tuple[str, ...] = ()


@dataclass(frozen=True)
class CutRun:
    """One wire to cut.

    Attributes
    ----------
    label : str
        Code for both ends.
    role : str
        `feed` or `ground`.
    lead : str
        Whose it is; empty for the only lead, or a ground that leads share.
    routed_m, cut_m : float
        Measured length, and with slack and service loop [m].
    """

    label: str
    role: str
    lead: str
    conductor: Conductor
    routed_m: float
    cut_m: float


@dataclass(frozen=True)
class Part:
    """A line of the parts list."""

    id: str
    count: int
    detail: str


def cut_list(leads: Sequence[LeadBuild]) -> tuple[CutRun, ...]:
    """The runs of one addition: a feed for every lead, and a ground for those that go the same way back.

    Parameters
    ----------
    leads : sequence of LeadBuild

    Returns
    -------
    tuple of CutRun
        A shared ground is not thinner than any of its feeds, and bears what they carry together.
    """
    runs = [("feed", each.lead, each.conductor, each.out_m) for each in leads]
    for back_m in dict.fromkeys(each.back_m for each in leads if each.back_m > 0):
        sharing = [each for each in leads if each.back_m == back_m]
        runs.append(("ground", sharing[0].lead if len(sharing) == 1 else "", _ground(sharing), back_m))
    return tuple(
        CutRun(str(n), role, lead, conductor, routed, round(routed + SLACK_M + SERVICE_LOOP_M, 2))
        for n, (role, lead, conductor, routed) in enumerate(runs, start=1)
    )


def _ground(sharing: Sequence[LeadBuild]) -> Conductor:
    thickest = max((each.conductor for each in sharing), key=lambda wire: wire.area_mm2)
    load_a = sum(each.load_a for each in sharing)
    bearing = (
        wire
        for wire in conductors(thickest.standard)
        if wire.area_mm2 >= thickest.area_mm2 and wire.largest_fuse_a >= load_a
    )
    return next(bearing, thickest)


def spool_length_m(runs: Sequence[CutRun]) -> int:
    """Wire to have at hand [m], rounded up to whole metres."""
    return ceil(sum(run.cut_m for run in runs) - 1e-9)


def parts(lamps: int, leads: Sequence[LeadBuild], runs: Sequence[CutRun]) -> tuple[Part, ...]:
    """What to lay out before opening the vehicle.

    Parameters
    ----------
    lamps : int
        Number of lamps added [-].
    leads : sequence of LeadBuild
    runs : sequence of CutRun

    Returns
    -------
    tuple of Part
        Joints are counted at every tap and at each lamp's feed; each ground run and each feed from the battery gets
        a ring terminal.
    """
    found: Counter[tuple[str, str]] = Counter()
    found["lamp", ""] = lamps
    for name in dict.fromkeys(run.conductor.name for run in runs):
        found["wire", name] = spool_length_m([run for run in runs if run.conductor.name == name])
    for each in leads:
        found["fuse", f"{each.fuse.rating_a:g} A {each.fuse.colour}"] += 1
        found["fuse_holder", ""] += 1
        joints = each.taps + each.lamps
        found["joint", each.joint.connector_colour] += joints
        found["sleeve", f"{each.joint.sleeve_mm:g} mm"] += joints
        own = [OWN[key] for key in each.own]
        found["switch", ""] += sum(bool(source.switched_with) for source in own)
        found["fuse_holder", ""] += len(own)
        found["ring_terminal", ""] += each.form.has_own_supply + sum(source.is_at_battery for source in own)
        found["grommet", ""] += 1
        for part, count in each.form.brings.items():
            found[part, ""] = 1 if part in ONCE else found[part, ""] + count
    found["ring_terminal", ""] += max(1, len([run for run in runs if run.role == "ground"]))
    listed = [Part(id, count, detail) for (id, detail), count in found.items() if count]
    return tuple(sorted(listed, key=lambda part: _ORDER.index(part.id)))


ONCE = frozenset({"flasher"})
"""Parts of which a vehicle has one, however many leads ask for it."""

_ORDER = (
    "lamp",
    "self_switching_bulb",
    "switch",
    "wire",
    "fuse",
    "fuse_holder",
    "relay",
    "relay_socket",
    "timed_relay",
    "diode",
    "converter",
    "separator",
    "flasher",
    "joint",
    "sleeve",
    "ring_terminal",
    "grommet",
)
"""The order in which parts are laid out."""
