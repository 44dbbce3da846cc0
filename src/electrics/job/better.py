"""The best hook-ups of a job, with all leads connected: what they upset counts before what they cost in parts.

The order of `LeadPlan.ways` is by logic and by what bears the load. What only shows on the finished design (a feed
that loses too much) is tried here, a form at a time, for both sides of a pair together.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass

from electrics.job.cures.registry import CURABLE
from electrics.job.hookup_plan import CURABLE as BY_FIX
from electrics.job.hookup_plan import LeadPlan
from electrics.job.plan import Plan
from electrics.job.ways import Way

__all__ = ["Better", "best_plan", "best_ways", "better_ways"]

MOST_FORMS = 4
"""Other forms that are tried for a lead whose best one upsets something [-]."""


@dataclass(frozen=True)
class Better:
    """Hook-ups that would be better now than those that were chosen, for leads that are alike.

    Attributes
    ----------
    ways : mapping of str to Way
        By lead.
    """

    ways: Mapping[str, Way]


def best_plan(found: Plan) -> Plan:
    """The plan with the best hook-up for every lead that none was chosen for."""
    return found.taking(best_ways(found))


def best_ways(found: Plan) -> dict[str, str]:
    """Keys of the best hook-ups of the leads that none was chosen for, by lead.

    Parameters
    ----------
    found : Plan

    Returns
    -------
    dict of str to str
        The first of each lead, unless with all leads connected another form upsets less.
    """
    open_leads = [lead for lead in found.hookup.leads if lead.chosen is None and lead.shown]
    best = {lead.lead.id: lead.shown.key for lead in open_leads if lead.shown}
    least = _badness(found.taking(best))
    for alike in _alike(open_leads):
        if not any(least[:2]):
            break
        for ways in _other_forms(alike):
            tried = {**best, **_keys(ways)}
            badness = _badness(found.taking(tried))
            if badness < least:
                best, least = tried, badness
    return best


def better_ways(found: Plan) -> tuple[Better, ...]:
    """Where another hook-up than the chosen one is better by now, since facts have changed or were passed over.

    Parameters
    ----------
    found : Plan

    Returns
    -------
    tuple of Better
        One for each pair or single lead; none that forbids or upsets more than what was chosen. Where what was chosen
        must not be built, another form that may be.
    """
    better, now = [], _badness(found)
    for alike in _alike([lead for lead in found.hookup.leads if lead.chosen is not None]):
        ways = {lead.lead.id: way for lead in alike if (way := _cheaper(lead)) is not None}
        if ways and _badness(found.taking(_keys(ways), instead=True))[:2] <= now[:2]:
            better.append(Better(ways))
        elif now[0]:
            tried = [(_badness(found.taking(_keys(ways), instead=True)), ways) for ways in _other_forms(alike)]
            least, ways = min(tried, key=lambda each: each[0], default=(now, {}))
            better += [Better(ways)] if least[0] < now[0] else []
    return tuple(better)


def _cheaper(lead: LeadPlan) -> Way | None:
    """The best hook-up of a lead where it is better by logic than the chosen one; of equal ones the own side's."""
    chosen, best = lead.chosen, next(iter(lead.right), None)
    if chosen is None or best is None or best is chosen:
        return None
    costs = [(*way.candidate.cost, way.strange_to(lead.lead.side)) for way in (best, chosen)]
    return best if costs[0] < costs[1] or not chosen.is_right else None


def _alike(leads: Sequence[LeadPlan]) -> list[tuple[LeadPlan, ...]]:
    """Leads of one name on units of one kind: both sides of a pair are decided together."""
    found: dict[str, list[LeadPlan]] = {}
    for lead in leads:
        mates = lead.lead.mates(each.lead for each in leads)
        first = next((mate.id for mate in mates if mate.id in found), lead.lead.id)
        found.setdefault(first, []).append(lead)
    return [tuple(each) for each in found.values()]


def _other_forms(alike: Sequence[LeadPlan]) -> Iterator[dict[str, Way]]:
    """The same other form for every one of some leads that are alike, the best of it for each."""
    first = alike[0]
    forms = dict.fromkeys(way.candidate.form.id for way in first.right)
    forms.pop(first.shown.candidate.form.id if first.shown else "", None)
    for form in list(forms)[:MOST_FORMS]:
        ways = {
            lead.lead.id: way
            for lead in alike
            if (way := next((each for each in lead.right if each.candidate.form.id == form), None)) is not None
        }
        if len(ways) == len(alike):
            yield ways


def _keys(ways: Mapping[str, Way]) -> dict[str, str]:
    return {id: way.key for id, way in ways.items()}


def _badness(found: Plan) -> tuple[int, int, int]:
    """What forbids it whatever fix may follow, what it upsets that no fix ends, and its parts with those of fixes."""
    hookup = found.hookup
    forbidden = sum(fault.rule not in BY_FIX for fault in hookup.faults)
    rules = [upset.rule for upset in hookup.upsets]
    fixes = max((CURABLE.get(rule, 0) for rule in rules), default=0)
    parts = sum(lead.shown.candidate.merits.parts for lead in hookup.leads if lead.shown)
    return forbidden, sum(rule not in CURABLE for rule in rules), parts + fixes
