"""The build sheet, made from the plan: runs to cut, joints to make, parts to lay out, steps in order.

Steps are ids in the order of work; their wording is the interface's.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from math import ceil

from electrics.hookup.joints import JointFit
from electrics.reference.conductor import Conductor
from electrics.reference.fuses import Fuse

__all__ = ["STEPS", "CutRun", "Part", "cut_list", "parts", "spool_length_m"]

SLACK_M = 0.75
"""Extra on every run to pull and trim [m]: 60 to 90 cm (common practice)."""
SERVICE_LOOP_M = 0.25
"""Loop at each lamp, so that it can be taken off again [m] (estimate)."""

RELAYS = dict.fromkeys(("relay", "relay_or", "and", "and_not", "to_ground", "from_ground"), 1)
"""Relays that a form of hook-up takes [-]."""

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
class CutRun:
    """One wire to cut.

    Attributes
    ----------
    label : str
        Code for both ends.
    role : str
        `feed` or `ground`.
    routed_m, cut_m : float
        Measured length, and with slack and service loop [m].
    """

    label: str
    role: str
    conductor: Conductor
    routed_m: float
    cut_m: float


@dataclass(frozen=True)
class Part:
    """A line of the parts list."""

    id: str
    count: int
    detail: str


def cut_list(conductor: Conductor, out_m: float, back_m: float) -> tuple[CutRun, ...]:
    """The runs of one addition; a ground return is a run too.

    Parameters
    ----------
    conductor : Conductor
    out_m, back_m : float
        Routed length of feed and ground [m].

    Returns
    -------
    tuple of CutRun
    """
    lengths = (("1", "feed", out_m), ("2", "ground", back_m))
    return tuple(
        CutRun(label, role, conductor, routed, round(routed + SLACK_M + SERVICE_LOOP_M, 2))
        for label, role, routed in lengths
        if routed > 0
    )


def spool_length_m(runs: Sequence[CutRun]) -> int:
    """Wire to have at hand [m], rounded up to whole metres."""
    return ceil(sum(run.cut_m for run in runs) - 1e-9)


def parts(
    lamps: int, runs: Sequence[CutRun], fuse: Fuse, joint: JointFit, forms: Sequence[str] = ()
) -> tuple[Part, ...]:
    """What to lay out before opening the vehicle.

    Parameters
    ----------
    lamps : int
        Number of lamps added [-].
    runs : sequence of CutRun
    fuse : Fuse
        For the branch.
    joint : JointFit
    forms : sequence of str
        Ids of the forms of hook-up chosen, which bring relays, diodes and modules.

    Returns
    -------
    tuple of Part
        Joints are counted at the tap and at each lamp's feed; each lamp's ground gets a terminal.
    """
    joints = 1 + lamps
    extra = [
        Part(id, sum(count.get(form, 0) for form in forms), "")
        for id, count in (
            ("relay", RELAYS),
            ("relay_socket", RELAYS),
            ("diode", {"diode_or": 2, "relay_or": 2}),
            ("converter", {"converter": 1}),
            ("separator", {"separate_turn": 1, "separate_stop": 1}),
            ("flasher", {"flasher": 1}),
        )
    ]
    return (
        Part("lamp", lamps, ""),
        Part("wire", spool_length_m(runs), runs[0].conductor.name),
        Part("fuse", 1, f"{fuse.rating_a:g} A {fuse.colour}"),
        Part("fuse_holder", 1, ""),
        Part("joint", joints, joint.connector_colour),
        Part("sleeve", joints, f"{joint.sleeve_mm:g} mm"),
        Part("ring_terminal", max(1, len([run for run in runs if run.role == "ground"])), ""),
        Part("grommet", 1, ""),
        *(part for part in extra if part.count),
    )
