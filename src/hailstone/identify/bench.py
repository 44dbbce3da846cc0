"""The bench: everything that the Identify page shows of one access point, as plain values."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property
from urllib.parse import urlencode

from django.contrib.auth.models import User
from django.http import Http404, QueryDict

from electrics.document.places import Setup
from electrics.document.vehicle import Computer
from electrics.errors import InputError, ReadingError
from electrics.formats.reading_text import expected_from, parse_reading
from electrics.formats.readings_csv import parse_supply_v
from electrics.identify.belief import Belief, WireBelief
from electrics.identify.change import WhatChanges, what_would_change
from electrics.identify.needed import Need, enough, needs_of
from electrics.identify.plan import Step
from electrics.reference.functions import kind_of
from electrics.vocabulary import Control, Function, Instrument, Load, parse_state
from hailstone.identify.face import Face, make_face
from hailstone.identify.models import AccessPoint, Photo, Pin, Reading
from hailstone.identify.news import News, news_for
from hailstone.identify.places import ShownPlace, grouped, other_side, second_plug
from hailstone.jobs.models import Job
from hailstone.layers.beliefs import beliefs, beyond_reach, controls_needed, for_taps, needed, needs_any, steps
from hailstone.layers.distances import where_is
from hailstone.layers.facts import jobs_with_readings
from hailstone.layers.job_facts import setup_of
from hailstone.layers.lacks import NOT_FITTED
from hailstone.layers.places import SaidPlace
from hailstone.layers.progress import Overview
from hailstone.shop.switches import MORE, STRIP, StripSwitch, switches
from hailstone.wording import advice, words

MAY_BE = 0.2
"""Chance from which a wire may still be what the job needs [-]."""


@dataclass(frozen=True)
class Column:
    """One way of reading; the open one takes what is typed."""

    setup: Setup
    against: str

    @property
    def name(self) -> str:
        return words.setup_name(self.setup) + (f" against {self.against}" if self.against else "")

    @property
    def unit(self) -> str:
        return words.UNITS[self.setup.instrument]

    @property
    def query(self) -> str:
        """Where the bench is with this column open."""
        return query_of(self.setup)


@dataclass(frozen=True)
class CellView:
    """One reading as the bench shows it: its text, and `bad`, `odd` or nothing with the reason."""

    text: str
    mark: str = ""
    why: str = ""


@dataclass(frozen=True)
class Because:
    """One reading's weight for a verdict, as a bar and a sentence."""

    sentence: str
    share: float
    speaks_for: bool
    bits: float


@dataclass(frozen=True)
class Row:
    """One wire on the bench."""

    pin: Pin
    past: tuple[CellView, ...]
    cell: CellView
    is_asked: bool
    wire: WireBelief
    verdict: str
    rival: str
    because: tuple[Because, ...]
    warnings: tuple[str, ...]
    claims: tuple[tuple[str, bool], ...]
    change: str
    live: str
    lack: str


@dataclass(frozen=True)
class Bench:
    """The whole bench."""

    view: Overview
    point: AccessPoint
    where: str
    points: tuple[AccessPoint, ...]
    belief: Belief
    setup: Setup
    supply: str
    strip: tuple[StripSwitch, ...]
    more: tuple[StripSwitch, ...]
    past: tuple[Column, ...]
    rows: tuple[Row, ...]
    step: Step | None
    later: tuple[Step, ...]
    face: Face | None
    groups: tuple[tuple[str, list[ShownPlace]], ...]
    mirror: SaidPlace | None
    second: SaidPlace | None
    photo: Photo | None
    news: News

    @property
    def is_set(self) -> bool:
        """Whether the advised set-up is the open one."""
        return self.step is not None and self.step.setup == self.setup

    @property
    def asked(self) -> str:
        """Ids of the pins to probe in the open column, separated by spaces."""
        return " ".join(str(row.pin.id) for row in self.rows if row.is_asked)

    @cached_property
    def needs(self) -> tuple[Need, ...]:
        """What the job needs of this place, and how well it is known."""
        return needs_of(self.belief, needed(self.view.job)[self.point.id])

    @property
    def is_for_taps(self) -> bool:
        """Whether readings are asked for what the job taps alone."""
        return for_taps(self.view.job)

    @property
    def is_enough(self) -> bool:
        """Whether what the job needs of this place is known well enough."""
        return bool(self.belief.wires) and all(need.is_met for need in self.needs)

    @property
    def repeats(self) -> list[tuple[Pin, str]]:
        """The pins that are to be read once more in the open column, with what they read before."""
        if self.step is None or not self.step.is_repeat or not self.is_set:
            return []
        return [(row.pin, row.cell.text) for row in self.rows if row.is_asked and row.cell.text]

    @property
    def can_switch(self) -> bool:
        """Whether it makes a difference what is asked for."""
        return needs_any(self.view.job)

    @property
    def is_finished(self) -> bool:
        """Whether nothing more is to be measured here."""
        return self.is_enough if self.is_for_taps else self.belief.is_settled

    @property
    def next_place(self) -> AccessPoint | None:
        """Another place of which the job still needs something; None where it has enough."""
        if not self.is_for_taps:
            return None
        known, wanted = beliefs(self.view.job), needed(self.view.job)
        return next((point for point in self.points if not enough(known[point.id], wanted[point.id])), None)

    @property
    def step_query(self) -> str:
        """Where the bench is with the advised set-up open."""
        return query_of(self.step.setup if self.step else self.setup)

    @property
    def do(self) -> str:
        if self.step is None:
            return end_sentence(self.view.job, self.point.id)
        said = advice.for_sentence if self.is_for_taps else advice.do_sentence
        return said(self.step, self.point.kind)

    @property
    def why(self) -> str:
        return advice.why_sentence(self.step) if self.step else advice.arrangement_note(self.belief)

    @property
    def odd(self) -> list[str]:
        """Readings against all else, and claims against what was measured."""
        odd = advice.odd_sentences(self.belief) + [advice.missing_sentence(function) for function in self.missing]
        odd += [advice.beyond_sentence(self.belief, need) for need in beyond_reach(self.view.job, self.point.id)]
        return odd + [text for row in self.rows for text, is_disputed in row.claims if is_disputed]

    @property
    def missing(self) -> list[Function]:
        """What this job needs and no wire carries, here or elsewhere, although all here were read with it on."""
        wires = [wire for belief in beliefs(self.view.job).values() for wire in belief.wires]
        found = []
        for group in needed(self.view.job)[self.point.id].groups:
            control = kind_of(group[0]).shown_with
            read = {item.pin for item in self.belief.point.evidence if control in item.setup.state.controls}
            is_looked_for = control is not None and read.issuperset(wire.pin for wire in self.belief.wires)
            if is_looked_for and not any(wire.probability_of(each) >= MAY_BE for wire in wires for each in group):
                found.append(group[0])
        return found

    @property
    def enough(self) -> str:
        """That what this job needs is known already, while every wire is being charted."""
        is_said = self.step is not None and self.needs and self.is_enough
        return advice.needs_sentence(self.belief, self.needs) if is_said else ""

    @property
    def pin_word(self) -> str:
        return words.capital(advice.pin_word(self.point.kind))

    @property
    def may_lack(self) -> tuple[tuple[str, str], ...]:
        """Controls of the advised step that not every vehicle has, with their name; none that the job hangs on."""
        asked = set(map(str, self.step.setup.state.controls)) if self.step else set()
        asked -= set(map(str, controls_needed(self.view.job)))
        return tuple((ids, name) for ids, name in NOT_FITTED if asked & set(ids.split(",")))

    @property
    def cautions(self) -> list[str]:
        """What to mind in the open column and in the advised one."""
        return advice.cautions(self.setup, *([self.step.setup] if self.step else []))

    @property
    def always(self) -> str:
        return advice.ALWAYS

    @property
    def arrangement(self) -> str:
        return advice.arrangement_note(self.belief)

    @property
    def setup_name(self) -> str:
        return words.setup_name(self.setup)

    @property
    def unit(self) -> str:
        return words.UNITS[self.setup.instrument]

    @property
    def is_more_open(self) -> bool:
        return any(switch.is_on for switch in self.more)

    @property
    def expected(self) -> str:
        return expected_from(self.setup.instrument)

    @property
    def instruments(self) -> list[tuple[str, str]]:
        return [(str(i), name) for i, name in words.INSTRUMENTS.items()]

    @property
    def loads(self) -> list[tuple[str, str]]:
        return [(str(load), words.capital(name)) for load, name in words.LOADS.items()]


def query_of(setup: Setup) -> str:
    """The end of the bench's address with a set-up open."""
    return "?" + urlencode({"state": str(setup.state), "instrument": setup.instrument, "load": setup.load})


def end_sentence(job: Job, point_id: int) -> str:
    """What to say where no reading is asked for at an access point."""
    belief = beliefs(job)[point_id]
    if for_taps(job) and belief.wires:
        return advice.needs_sentence(belief, needs_of(belief, needed(job)[point_id]))
    return advice.summary_sentence(belief)


def only_point(job_id: int, point_id: int) -> AccessPoint:
    """One access point with its readings, and nothing derived; 404 when it is not there."""
    points = AccessPoint.objects.select_related("job").prefetch_related("pins__readings")
    point = points.filter(pk=point_id, job_id=job_id).first()
    if point is None:
        raise Http404("no such location")
    return point


def find_pin(job_id: int, point_id: int, pin_id: str) -> Pin:
    """One pin of a job's access point with its job, and nothing derived; 404 when it is not there."""
    if not pin_id.isdecimal():
        raise Http404("no such pin")
    pins = Pin.objects.select_related("point__job").only("label", "point__job__supply_v")
    pin = pins.filter(pk=int(pin_id), point_id=point_id, point__job_id=job_id).first()
    if pin is None:
        raise Http404("no such pin")
    return pin


def asked_setup(asked: QueryDict, point: AccessPoint) -> Setup:
    """The set-up that the address names, else that of the latest reading, else all off.

    Raises
    ------
    Http404
        The address names a control, instrument or load that does not exist.
    """
    state = str(asked.get("state", ""))
    if not state:
        return setup_now(point)
    try:
        return Setup(
            parse_state(state.replace(" ", "+")),
            Instrument(asked.get("instrument", Instrument.DMM)),
            Load(asked.get("load", Load.IN)),
        )
    except ValueError as error:
        raise Http404(str(error)) from error


def setup_now(point: AccessPoint) -> Setup:
    """The set-up of the latest reading, which is still set; all off where nothing was read yet."""
    readings = [reading for pin in point.pins.all() for reading in pin.readings.all()]
    if not readings:
        return Setup(parse_state("rest"))
    return setup_of(max(readings, key=lambda reading: (reading.taken_at, reading.id)))


@dataclass(frozen=True)
class Verdicts:
    """What a reading is answered with: every wire's cell and verdict, without reasons or advice."""

    point: AccessPoint
    setup: Setup
    rows: tuple[Row, ...]

    @property
    def query(self) -> str:
        """Where the bench is."""
        return query_of(self.setup)


def make_verdicts(job_id: int, point_id: int, setup: Setup) -> Verdicts:
    """The verdicts as they stand now, nothing else derived; 404 when job or access point is gone."""
    job = jobs_with_readings().filter(pk=job_id).first()
    point = next((each for each in job.points.all() if each.id == point_id), None) if job else None
    if job is None or point is None:
        raise Http404("no such location")
    belief = beliefs(job)[point.id]
    pins = list(point.pins.all())
    here = [reading for pin in pins for reading in pin.readings.all() if setup_of(reading) == setup]
    cells = _cells(here, belief)
    rows = (_row(pin, (), setup, cells, False, belief, "", explains=False) for pin in pins)
    return Verdicts(point, setup, tuple(rows))


def make_bench(view: Overview, point: AccessPoint, setup: Setup, who: User) -> Bench:
    """Everything the page shows, derived from the job's facts, for one person."""
    news = news_for(point, who)
    belief = beliefs(view.job)[point.id]
    advised = steps(view.job, point.id, setup)
    step = advised[0] if advised else None
    pins = list(point.pins.all())
    names = {place.name for place in view.job.points.all()}
    readings = sorted(
        (reading for pin in pins for reading in pin.readings.all()), key=lambda item: (item.taken_at, item.id)
    )
    columns = tuple(dict.fromkeys(Column(setup_of(reading), reading.against_label) for reading in readings))
    past = tuple(column for column in columns if column != Column(setup, ""))
    cells = _cells(readings, belief)
    asked = set(step.pins) if step and step.setup == setup else set()
    computer_fed = view.job.vehicle.said.computer is not Computer.NO
    changes = what_would_change(belief, computer_fed=computer_fed, tools=view.job.at_hand)
    supply_v = readings[-1].supply_v if readings else view.job.supply_v
    return Bench(
        view,
        point,
        where_is(view.job, point),
        tuple(view.job.points.all()),
        belief,
        setup,
        f"{supply_v:g}",
        switches(setup.state, _fitted(STRIP, view), all_off=True),
        switches(setup.state, _fitted(MORE, view)),
        past,
        tuple(
            _row(
                pin,
                past,
                setup,
                cells,
                pin.label in asked,
                belief,
                _change(changes.get(pin.label), supply_v),
            )
            for pin in pins
        ),
        step,
        tuple(advised[1:]),
        make_face(point, pins, belief, set(step.pins) if step else set()),
        tuple(grouped(view.job, point)),
        other_side(point, belief, names),
        second_plug(point, belief, names),
        getattr(point, "photo", None),
        news,
    )


def _fitted(controls: Sequence[tuple[Control, str]], view: Overview) -> list[tuple[Control, str]]:
    return [each for each in controls if each[0] not in view.job.vehicle.said.not_fitted]


def _cells(readings: list[Reading], belief: Belief) -> dict[tuple[str, Column], CellView]:
    odd = {(item.evidence.pin, Column(item.evidence.setup, item.evidence.against)) for item in belief.contradictions}
    odd |= {(pin, Column(family.setup, "")) for family in belief.families for pin in family.pins}
    cells = {}
    for reading in readings:
        place = (reading.pin.label, Column(setup_of(reading), reading.against_label))
        try:
            parse_reading(reading.text, Instrument(reading.instrument))
        except ReadingError as error:
            cells[place] = CellView(
                reading.text, "bad", f"{error.why or 'cannot be read'}. Expected {error.expected}."
            )
            continue
        if place in odd:
            cells[place] = CellView(reading.text, "odd", "disagrees with the rest: measure again")
        else:
            cells[place] = CellView(reading.text)
    return cells


def _row(
    pin: Pin,
    past: tuple[Column, ...],
    setup: Setup,
    cells: dict[tuple[str, Column], CellView],
    is_asked: bool,
    belief: Belief,
    change: str,
    *,
    explains: bool = True,
) -> Row:
    """One wire; on demand without the reasons for its verdict."""
    wire = belief.wire(pin.label)
    rival, chance = wire.rival
    most = max([abs(weight.bits) for weight in wire.weights] or [1.0])
    because = sorted(
        (
            Because(
                advice.evidence_sentence(weight.evidence),
                min(1.0, abs(weight.bits) / max(most, 4.0)),
                weight.bits > 0,
                weight.bits,
            )
            for weight in (wire.weights if explains else ())
            if abs(weight.bits) >= 0.3
        ),
        key=lambda item: -abs(item.bits),
    )
    empty = CellView("")
    return Row(
        pin,
        tuple(cells.get((pin.label, column), empty) for column in past),
        cells.get((pin.label, Column(setup, "")), empty),
        is_asked,
        wire,
        advice.verdict_name(wire),
        f"{words.function_name(rival)} {words.percent(chance)}" if chance >= 0.01 else "",
        tuple(because[:6]),
        tuple(advice.warnings(belief, wire)) if explains else (),
        tuple(advice.claim_sentences(wire)),
        change,
        advice.live_sentence(wire) if explains else "",
        advice.lack_sentence(wire),
    )


def _change(change: WhatChanges | None, supply_v: float) -> str:
    return advice.change_sentence(change, supply_v) if change else ""


def safe_supply(text: str, fallback: float) -> float:
    """Battery voltage typed on the bench [V].

    Raises
    ------
    InputError
        It is no battery voltage; the message says what was expected.
    """
    if not text.strip():
        return fallback
    try:
        return parse_supply_v(text)
    except InputError as error:
        raise InputError(f"Battery now: {error}.") from error
