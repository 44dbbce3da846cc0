"""The face of a connector as plain shapes: contacts with coordinates, and from where one looks at it."""

from __future__ import annotations

from collections.abc import Sequence, Set
from dataclasses import dataclass

from electrics.identify.belief import Belief
from electrics.identify.kinds import access_kinds, pin_out
from hailstone.identify.models import AccessPoint, Pin
from hailstone.wording.advice import verdict_name

CELL = 18.0
MARGIN = 6.0
MOST_ROWS = 8


@dataclass(frozen=True)
class Contact:
    """One contact: where it is, what is known of it (`settled`, `open`, `asked`), and its words."""

    pin_id: int
    label: str
    x: float
    y: float
    status: str
    title: str


@dataclass(frozen=True)
class Face:
    """A drawing of the connector; `outline` is `round`, `flat` or `grid`."""

    title: str
    note: str
    outline: str
    width: float
    height: float
    contacts: tuple[Contact, ...]


def make_face(point: AccessPoint, pins: Sequence[Pin], belief: Belief, asked: Set[str]) -> Face | None:
    """The face of an access point; None where there is nothing to draw.

    A standard plug has its own face; any other connector is drawn as a numbered grid when it has rows.
    """
    kind = access_kinds()[point.kind]
    is_mirrored = point.seen_from == "wires"
    places = {pin.pin: (pin.x, pin.y) for pin in pin_out(point.kind)}
    outline = kind.outline or "grid"
    note = ""
    if places:
        half = kind.face.partition(",")[0]
        title = (
            f"{half[0].upper()}{half[1:]}, {'from the wire side' if is_mirrored else kind.face.partition(', ')[2]}"
        )
        note = "Numbers stand where the standard has them, from memory: go by the number on the part."
        width, height = 100.0, 100.0
        if outline == "flat":
            height = 36.0
            places = {pin: (x, y - 32) for pin, (x, y) in places.items()}
    else:
        rows = min(point.face_rows or (1 if kind.outline == "grid" else 0), MOST_ROWS)
        if not rows or not pins:
            return None
        columns = -(-len(pins) // rows)
        title = "From the wire side" if is_mirrored else "Looking into the contacts"
        width, height = columns * CELL + 2 * MARGIN, rows * CELL + 2 * MARGIN
        places = {
            pin.label: (MARGIN + CELL * (n % columns + 0.5), MARGIN + CELL * (n // columns + 0.5))
            for n, pin in enumerate(pins)
        }
    contacts = []
    for pin in pins:
        if pin.label not in places:
            continue
        x, y = places[pin.label]
        wire = belief.wire(pin.label)
        status = "settled" if wire.is_settled else "asked" if pin.label in asked else "open"
        says = verdict_name(wire) if wire.is_settled else "not settled"
        contacts.append(
            Contact(
                pin.id,
                pin.label,
                round(width - x if is_mirrored else x, 1),
                round(y, 1),
                status,
                f"{kind.pin_word.capitalize()} {pin.label}: {says}",
            )
        )
    return Face(title, note, outline, width, height, tuple(contacts))
