"""Queries a page, and the server's time from a reading typed to every verdict, on a database of its own."""

from __future__ import annotations

import os
import random
import re
import statistics
import tempfile
import time
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

from electrics.signals import Level, Scenario, signal
from electrics.vocabulary import Arrangement, Function, parse_state

SEED = 20261124
WIRES = 24
FEW_JOBS, MANY_JOBS = 100, 10_000
REDRAWN_JOB = "Mirror turn lamps for a book van"
REDRAWS = 20
DEMO_JOBS = 13


@dataclass(frozen=True)
class PageFigures:
    """What the pages cost.

    Attributes
    ----------
    rows
        Address, queries, ms of its first view with nothing kept, and median ms of each page.
    few_ms
        The board with `FEW_JOBS`, as ms of a page; in `rows` it has `MANY_JOBS`.
    import_ms, import_queries
        400 readings taken in from a file.
    saves_ms, empty_ms
        40 readings typed on 24 wires, to the verdicts; and, for comparison, a page with nothing on it.
    advice_ms
        What follows each of them by its own request: the advice for what the job taps.
    redraws_ms
        Choosing between two ways of a hook-up, to everything redrawn; the first two are cold.
    steps
        Of the demo job with the most, which the last rows are of.
    sheets_ms
        Parts, steps and test lines of that job, in words, from its plan.
    """

    rows: list[tuple[str, int, float, float]]
    few_ms: float
    import_ms: float
    import_queries: int
    saves_ms: list[float]
    advice_ms: list[float]
    empty_ms: float
    redraws_ms: list[float]
    steps: int
    sheets_ms: float


def measure_pages() -> PageFigures:
    """Every page, then readings typed and ways chosen, as the server answers them."""
    with tempfile.TemporaryDirectory() as folder:
        os.environ["HAILSTONE_DATA"] = folder
        from hailstone.cli.serving import prepare_demo

        prepare_demo()
        from django.conf import settings
        from django.test import Client

        import hailstone.wsgi  # noqa: F401  as the server loads it

        settings.ALLOWED_HOSTS = ["testserver"]
        client = Client()
        from django.contrib.auth import get_user_model

        who = get_user_model().objects.get()
        client.force_login(who)
        job_id, point_id = _large_job(who)
        _many_jobs(who, FEW_JOBS)
        *_, few_ms = _page(client, "/")
        _many_jobs(who, MANY_JOBS - FEW_JOBS)
        largest, steps, sheets_ms = _largest()
        paths = _paths(job_id, point_id)
        paths += [f"/jobs/{largest}/build/{what}" for what in ("", "sheet/", "loom.svg", "sheet.pdf")]
        rows = [(path, *_page(client, path)) for path in paths]
        taken_in = _import(client, who)
        (saves, advice), (*_, empty_ms) = _saves(client, job_id, point_id), _page(client, EMPTY)
        return PageFigures(rows, few_ms, *taken_in, saves, advice, empty_ms, _redraws(client), steps, sheets_ms)


def _largest() -> tuple[int, int, float]:
    """The demo job with the most build steps, how many, and what its sheets take from the plan [ms]."""
    from electrics.job.plan import plan
    from electrics.job.rests import step_rests
    from hailstone.jobs.models import Job
    from hailstone.layers.overviews import job_overview
    from hailstone.wording.steps import Vehicle, step_text

    ids = Job.objects.order_by("id").values_list("id", flat=True)[:DEMO_JOBS]
    view = max(map(job_overview, ids), key=lambda each: len(each.stands))
    times = []
    for _ in range(7):
        fresh = plan(view.derived.facts, like=view.derived)
        start = time.perf_counter()
        build, lines = fresh.build, fresh.sheet
        texts = [step_text(step, build, Vehicle()) for step in fresh.steps] if build else []
        step_rests(fresh)
        times.append(1e3 * (time.perf_counter() - start))
        if not texts or not lines:
            raise RuntimeError("the largest demo job has no sheets")
    return view.job.pk, len(view.stands), statistics.median(times)


EMPTY = "/?q=nothing+is+called+so"


def _paths(job_id: int, point_id: int) -> list[str]:
    layers = ["", "hook-up/", "correct/", "build/", "prove/", "prove/sheet/"]
    return ["/", "/?page=400", *[f"/jobs/2/{layer}" for layer in layers], f"/jobs/{job_id}/identify/{point_id}/"]


def _large_job(who: Any) -> tuple[int, int]:
    from hailstone.demo.jobs import brief
    from hailstone.identify.services import add_point
    from hailstone.jobs.services import begin_job
    from hailstone.layers.places import SaidPlace, SaidWire

    job = begin_job(who, brief("A plug of 24"))
    colours = ["BK", "BN/WH", "WH/GN", "YE/BK", "VT", "RD"]
    wires = [SaidWire(str(n + 1), colours[n % 6]) for n in range(WIRES)]
    return job.id, add_point(job, SaidPlace("trailer plug", "connector", "", wires), who).id


def _many_jobs(who: Any, count: int) -> None:
    from hailstone.demo.jobs import brief
    from hailstone.jobs.models import Job, Vehicle

    facts = brief("")
    papers, said = ("make", "model", "year", "market"), ("system_v", "computer", "not_fitted", "arrangement")
    known = Vehicle(**{name: facts[name] for name in papers})
    known.say(**{name: facts[name] for name in said})
    own = {name: getattr(known, name) for name in (*papers, "facts")}
    vehicles = Vehicle.objects.bulk_create([Vehicle(**own) for _ in range(count)])
    rest = {name: value for name, value in facts.items() if name not in (*papers, *said, "title")}
    jobs = Job.objects.bulk_create(
        [Job(vehicle=v, title=f"Job {n}", created_by=who, changed_by=who, **rest) for n, v in enumerate(vehicles)]
    )
    _fill(jobs, who)


def _fill(jobs: Sequence[Any], who: Any) -> None:
    """Every job with a lamp opened and measured: places, wires and readings, as on a shop's own disk."""
    from django.db import connection
    from django.utils import timezone

    from hailstone.identify.models import AccessPoint, Pin, Reading

    kept = {"kind": "rear_lamp", "side": "left"}
    points = AccessPoint.objects.bulk_create([AccessPoint(job=job, name="left tail lamp", **kept) for job in jobs])
    pins = Pin.objects.bulk_create(
        [Pin(point=point, label=str(n + 1), position=n) for point in points for n in range(len(LAMP))], batch_size=500
    )
    now, scenario = timezone.now(), Scenario(Arrangement.SEPARATE)
    first = []
    for pin, function in zip(pins, LAMP, strict=False):
        for state in ("rest", "park", "brake", "left", "reverse"):
            lit = signal(function, parse_state(state), scenario).lit
            shown = {"text": "12.2" if lit is Level.ON else "0.0", "supply_v": 12.6, "taken_by": who, "taken_at": now}
            first.append(Reading(pin=pin, state=state, **shown))
    Reading.objects.bulk_create(first)
    columns = ", ".join(f.column for f in Reading._meta.concrete_fields if f.column not in ("id", "pin_id"))
    with connection.cursor() as cursor:  # every other job reads what the first one did
        cursor.execute(
            f"INSERT INTO {Reading._meta.db_table} (pin_id, {columns}) "
            f"SELECT other.id, {columns} FROM {Reading._meta.db_table} AS read "
            f"JOIN {Pin._meta.db_table} AS own ON own.id = read.pin_id "
            f"JOIN {Pin._meta.db_table} AS other ON other.position = own.position "
            "WHERE own.point_id = %s AND other.point_id BETWEEN %s AND %s",
            [points[0].id, points[1].id, points[-1].id],
        )

    _decide(jobs, pins, who)


def _decide(jobs: Sequence[Any], pins: Sequence[Any], who: Any) -> None:
    """A way chosen on each job, as its rows stand."""
    from hailstone.hookup.models import HookUp, LeadDecision, WaySource
    from hailstone.units.models import Lead

    hookups = HookUp.objects.bulk_create([HookUp(job=job, changed_by=who) for job in jobs])
    taken = pins[LAMP.index(Function.REVERSE) :: len(LAMP)]
    for key in LEADS:
        leads = Lead.objects.bulk_create([Lead(job=job, key=key, position=0) for job in jobs])
        chosen = LeadDecision.objects.bulk_create(
            [LeadDecision(hookup=each, lead=lead, form="direct") for each, lead in zip(hookups, leads, strict=True)]
        )
        WaySource.objects.bulk_create(
            [WaySource(decision=each, position=0, pin=pin) for each, pin in zip(chosen, taken, strict=True)]
        )


LEADS = ("left-reverse", "right-reverse")
"""What each job has to feed."""
LAMP = (Function.GROUND, Function.TAIL, Function.STOP, Function.TURN_LEFT, Function.REVERSE)
"""What the wires of each lamp do."""


def _page(client: Any, path: str) -> tuple[int, float, float]:
    from django.db import connection
    from django.test.utils import CaptureQueriesContext

    from electrics.job import trials
    from hailstone.layers import plans

    plans.forget()
    trials.forget()
    start = time.perf_counter()
    client.get(path)
    first = 1e3 * (time.perf_counter() - start)
    times = []
    for _ in range(7):
        start = time.perf_counter()
        response = client.get(path)
        times.append(1e3 * (time.perf_counter() - start))
        if response.status_code != 200:
            raise RuntimeError(f"{path} answered {response.status_code}")
    with CaptureQueriesContext(connection) as counted:
        client.get(path)
    return len(counted), first, statistics.median(times)


def _import(client: Any, who: Any) -> tuple[float, int]:
    """400 readings from a file, and how many queries that takes."""
    from django.core.files.uploadedfile import SimpleUploadedFile
    from django.db import connection
    from django.test.utils import CaptureQueriesContext

    job_id, point_id = _large_job(who)
    rows = [f"loom,{n},BK,{state},{12.0 + n / 100:.2f}" for n in range(1, 51) for state in IMPORTED]
    text = "access_point,pin,colour,state,reading\n" + "\n".join(rows)
    address = f"/jobs/{job_id}/identify/{point_id}/import/"
    with CaptureQueriesContext(connection) as counted:
        start = time.perf_counter()
        response = client.post(address, {"file": SimpleUploadedFile("many.csv", text.encode())})
        elapsed = 1e3 * (time.perf_counter() - start)
    if response.status_code != 302:
        raise RuntimeError(f"the import answered {response.status_code}")
    return elapsed, len(counted)


IMPORTED = ("rest", "park", "brake", "left", "right", "reverse", "low", "hazard")


def _saves(client: Any, job_id: int, point_id: int) -> tuple[list[float], list[float]]:
    """Fill five columns of the 24-wire plug, then time 40 readings more, each with a fresh belief, and its advice.

    What a meter would show, one in twenty a mistake.
    """
    from hailstone.identify.models import Pin

    rng = random.Random(SEED)
    pins = list(Pin.objects.filter(point_id=point_id).values_list("id", flat=True))
    address = f"/jobs/{job_id}/identify/{point_id}/readings/"
    scenario = Scenario(Arrangement.SEPARATE)

    def save(n: int, state: str) -> float:
        seen = signal(PLUG[n], parse_state(state), scenario)
        text = "0-12" if seen.is_flashing else "12.2" if seen.lit is Level.ON else rng.choice(["0.0", "0.02"])
        if rng.random() < MISTAKES:
            text = rng.choice(["0.0", "12.2", "0-12"])
        sent = {"pin": pins[n], "state": state, "text": text, "supply": "12.6"}
        start = time.perf_counter()
        response = client.post(address, sent, headers={"HX-Request": "true"})
        elapsed = 1e3 * (time.perf_counter() - start)
        if response.status_code != 200:
            raise RuntimeError(f"saving answered {response.status_code}")
        return elapsed

    for state in ("rest", "park", "brake", "left", "reverse"):
        for n in range(WIRES):
            save(n, state)

    def advise(state: str) -> float:
        start = time.perf_counter()
        response = client.get(f"/jobs/{job_id}/identify/{point_id}/follows/", {"state": state})
        if response.status_code != 200:
            raise RuntimeError(f"advice answered {response.status_code}")
        return 1e3 * (time.perf_counter() - start)

    timed = [(save(n, state), advise(state)) for state in ("right", "hazard") for n in range(20)]
    return [each for each, _ in timed], [each for _, each in timed]


F = Function
LAMPS = (F.GROUND, F.TAIL, F.STOP, F.TURN_LEFT, F.TURN_RIGHT, F.REVERSE)
PLUG = (*LAMPS, F.BATTERY, F.IGNITION, F.SPARE, *LAMPS, F.FOG_REAR, F.LOW_BEAM, *(F.SPARE for _ in range(7)))
"""What the wires of the plug do."""
MISTAKES = 0.05
"""Share of the readings [-]."""


def _redraws(client: Any) -> list[float]:
    """The mirror turn lamps taken by one way and by the other, in turn."""
    from hailstone.hookup.forms import HookUpForm
    from hailstone.jobs.models import Job
    from hailstone.layers.decisions import decisions_of
    from hailstone.layers.job_facts import hookup_of
    from hailstone.layers.overviews import job_overview

    job = Job.objects.get(title=REDRAWN_JOB)
    address = f"/jobs/{job.id}/hook-up/"
    ways = re.findall(r'name="way_turn" value="([^"]+)"', client.get(address).content.decode())[:2]
    times = []
    for turn in range(REDRAWS):
        plan = job_overview(job.id).plan
        form = HookUpForm(plan=plan, lead=plan.leads[0], circuits=["turn_left"], choice=hookup_of(job))
        sent = {name: value for name, value in form.initial.items() if value not in (None, False, {})}
        sent["way_turn"] = ways[turn % 2]
        start = time.perf_counter()
        response = client.post(address, sent, headers={"HX-Request": "true"})
        times.append(1e3 * (time.perf_counter() - start))
        if response.status_code != 200:
            raise RuntimeError(f"choosing a way answered {response.status_code}")
        job = Job.objects.get(id=job.id)
        if decisions_of(job).ways.get("turn") != ways[turn % 2]:
            raise RuntimeError("the way was not kept")
    return times
