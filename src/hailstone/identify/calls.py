"""The call sheet: the next three states at once, as one person calls them out and another writes them down."""

from __future__ import annotations

from dataclasses import dataclass

from electrics.formats.reading_text import expected_from
from hailstone.identify.bench import setup_now
from hailstone.identify.models import AccessPoint, Pin
from hailstone.jobs.models import Job
from hailstone.layers.beliefs import for_taps, steps_ahead
from hailstone.wording import advice, words


@dataclass(frozen=True)
class Call:
    """One state with the pins to probe in it and a place to write each reading."""

    do: str
    why: str
    cautions: tuple[str, ...]
    pins: tuple[Pin, ...]
    unit: str
    expected: str


def make_calls(job: Job, point: AccessPoint) -> list[Call]:
    """The next three states from where the bench stands now; empty when nothing is left to measure."""
    pins = {pin.label: pin for pin in point.pins.all()}
    said = advice.for_sentence if for_taps(job) else advice.do_sentence
    return [
        Call(
            said(step, point.kind),
            advice.why_sentence(step),
            tuple(advice.cautions(step.setup)),
            tuple(pins[label] for label in step.pins),
            words.UNITS[step.setup.instrument],
            expected_from(step.setup.instrument),
        )
        for step in steps_ahead(job, point.id, setup_now(point))
    ]
