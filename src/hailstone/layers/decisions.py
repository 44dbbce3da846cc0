"""What is decided of a job, loaded with the job: things, places, ways, runs, distances, cures.

The rows refer to each other, to wires and to access points by foreign key. A page needs them all, and a query for
each kind of row is more than a page may have: they come as columns of the job's own row, a JSON list a kind.
"""

from __future__ import annotations

from dataclasses import dataclass, field
from functools import cache
from typing import Any

from django.db import connection
from django.db.models import F, Func, JSONField, Model, OuterRef, QuerySet, Subquery
from django.db.models.expressions import RawSQL
from django.db.models.functions import JSONObject

from electrics.document.decisions import CureDecision
from electrics.document.units import UnitFacts
from electrics.document.way import WayKey
from electrics.document.written import typed
from hailstone.hookup.models import Cure, CuredLead, Distance, LeadDecision, WaySource
from hailstone.jobs.models import Job
from hailstone.layers.refs import Ref, name_of, names_by_ref
from hailstone.units.models import Lead, Spot, Unit

__all__ = ["GONE", "Decisions", "Entry", "decisions_of", "named_distances", "with_decided"]

Entry = dict[str, Any]
GONE = "gone"
"""Stands in a way for a wire that was taken out: no wire has that key."""


@dataclass(frozen=True)
class Decisions:
    """What is decided of a job.

    Attributes
    ----------
    units : tuple of UnitFacts
        What is fitted, one by one, places by reference (`hailstone.layers.refs`); empty where it is what the brief
        says by one name.
    spots : dict of str to str
        Zones of places that are no access points, by their names.
    ways : dict of str to str
        The chosen way by lead: its form and the ids of pins, `and_not:12,14`.
    runs : dict of str to dict
        `hailstone.hookup.models.RUN_FIELDS` by lead, where a lead differs from the first.
    distances : tuple of (str, str, float)
        Two places by reference, and metres.
    cures : tuple of CureDecision
        Fixes that are used.
    """

    units: tuple[UnitFacts, ...] = ()
    spots: dict[str, str] = field(default_factory=dict)
    ways: dict[str, str] = field(default_factory=dict)
    runs: dict[str, Entry] = field(default_factory=dict)
    distances: tuple[tuple[str, str, float], ...] = ()
    cures: tuple[CureDecision, ...] = ()


def decisions_of(job: Job) -> Decisions:
    """What is decided of a job; made once for a loaded job."""
    found: Decisions | None = job.__dict__.get("decided")
    if found is None:
        loaded = job if hasattr(job, f"{ROWS}units") else with_decided(Job.objects.all()).get(pk=job.pk)
        found = job.__dict__["decided"] = _made(**{name: getattr(loaded, ROWS + name) for name in _COLUMNS})
    return found


def named_distances(job: Job) -> list[tuple[str, str, float]]:
    """Stated distances by the names of today [m]."""
    decided = decisions_of(job)
    names = names_by_ref(job.points.all(), decided.units)
    return [(name_of(first, names), name_of(second, names), m) for first, second, m in decided.distances]


class Rows(Subquery):
    """Rows that belong to a job as one JSON list in a column of the job's."""

    template = "(SELECT JSON_GROUP_ARRAY(JSON(row)) FROM (%(subquery)s))"
    output_field = JSONField()

    def __init__(self, model: type[Model], owner: str, **columns: Any) -> None:
        rows = model._default_manager.filter(**{owner: OuterRef("pk")})
        super().__init__(rows.values(row=JSONObject(**columns)))


def _stored(name: str) -> Func:
    """A column of JSON inside an object of JSON."""
    return Func(F(name), function="JSON", output_field=JSONField())


def _place(name: str) -> dict[str, str]:
    at = {"point": "point_id", "unit": "unit__key", "spot": "spot__name", "rest": "rest"}
    return {f"{name}_{column}": f"{name}__{path}" for column, path in at.items()}


ROWS = "rows_of_"
_COLUMNS = {
    "spots": Rows(Spot, "job", name="name", zone="zone"),
    "units": Rows(
        Unit, "job", id="key", name="name", kind="kind", side="side", lamp="instead_of_id", facts=_stored("facts"),
        **_place("place"),
    ),
    "leads": Rows(Lead, "job", id="key", unit="unit__key", facts=_stored("facts")),
    "decisions": Rows(LeadDecision, "hookup__job", lead="lead__key", form="form", run=_stored("run")),
    "sources": Rows(WaySource, "decision__hookup__job", lead="decision__lead__key", pin="pin_id", own="own"),
    "cures": Rows(Cure, "hookup__job", row="id", cure="cure", facts=_stored("facts")),
    "cured": Rows(CuredLead, "cure__hookup__job", row="cure_id", lead="lead__key"),
    "distances": Rows(Distance, "hookup__job", m="m", **_place("first"), **_place("second")),
}  # fmt: skip


def with_decided(jobs: QuerySet[Job]) -> QuerySet[Job]:
    """The jobs with what `decisions_of` makes its answer from."""
    return jobs.annotate(**_compiled())


@cache
def _compiled() -> dict[str, RawSQL]:
    """The columns as the database reads them: to put them together anew would take longer than to read them."""
    query = Job.objects.annotate(**_COLUMNS).values(*_COLUMNS).query
    compiler = query.get_compiler(connection=connection)
    compiler.pre_sql_setup()
    return {ROWS + name: RawSQL(sql, params, output_field=JSONField()) for _, (sql, params), name in compiler.select}


def _made(
    *,
    spots: list[Entry],
    units: list[Entry],
    leads: list[Entry],
    decisions: list[Entry],
    sources: list[Entry],
    cures: list[Entry],
    cured: list[Entry],
    distances: list[Entry],
) -> Decisions:
    ways: dict[str, list[str]] = {each["lead"]: [] for each in decisions if each["form"]}
    for each in sources:
        ways[each["lead"]].append(each["own"] or str(each["pin"] or GONE))
    forms = {each["lead"]: each["form"] for each in decisions}
    return Decisions(
        tuple(_unit(each, leads) for each in units),
        {each["name"]: each["zone"] for each in spots},
        {lead: str(WayKey(forms[lead], tuple(taken))) for lead, taken in ways.items()},
        {each["lead"]: each["run"] for each in decisions if each["run"]},
        tuple((_ref(each, "first"), _ref(each, "second"), each["m"]) for each in distances),
        tuple(_cure(each, [at["lead"] for at in cured if at["row"] == each["row"]]) for each in cures),
    )


def _cure(row: Entry, leads: list[str]) -> CureDecision:
    return typed(CureDecision, {**row["facts"], "cure": row["cure"], "leads": leads})


def _unit(row: Entry, leads: list[Entry]) -> UnitFacts:
    own = {name: row[name] for name in ("id", "name", "kind", "side")}
    places = {"place": _ref(row, "place"), "instead_of": str(Ref(row["lamp"], None, ""))}
    said = [{**each["facts"], "id": each["id"]} for each in leads if each["unit"] == row["id"]]
    return typed(UnitFacts, {**row["facts"], **own, **places, "leads": said}).with_plain_commons


def _ref(row: Entry, place: str) -> str:
    """The reference of a place whose columns stand in a row; empty for none."""
    rest = (row[f"{place}_spot"] or "") + (row[f"{place}_rest"] or "")
    return str(Ref(row[f"{place}_point"], row[f"{place}_unit"], rest))
