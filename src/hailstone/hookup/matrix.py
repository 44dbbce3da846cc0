"""All leads against all states: what each lamp shows, where that is not what is wanted, equal states folded."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from electrics.hookup.trial import Together
from electrics.job.hookup_plan import HookUpPlan, LeadPlan
from electrics.signals import DARK, Signal
from electrics.vocabulary import State
from hailstone.wording.words import listed, signal_name, state_name

__all__ = ["Cell", "Column", "Matrix", "Row", "matrix_of"]

Key = tuple[tuple[str, str, bool], ...]


@dataclass(frozen=True)
class Cell:
    """What one lead shows in one state."""

    got: str
    wanted: str
    is_wrong: bool

    @property
    def title(self) -> str:
        """In words."""
        return f"{self.got}, wanted {self.wanted}" if self.is_wrong else self.got


@dataclass(frozen=True)
class Column:
    """States in which all leads show the same: the first of them, and the names of the others."""

    state: State
    name: str
    alike: tuple[str, ...]
    is_at: bool

    @property
    def title(self) -> str:
        """In words."""
        return f"{self.name}; the same in {listed(each.lower() for each in self.alike)}" if self.alike else self.name


@dataclass(frozen=True)
class Row:
    """One lead."""

    lead: LeadPlan
    cells: tuple[Cell, ...]
    marked: tuple[tuple[Cell, bool], ...]
    """Each cell, and whether its column is the one that is looked at."""


@dataclass(frozen=True)
class Matrix:
    """The whole table; `differing` says in words what is ringed."""

    columns: tuple[Column, ...]
    rows: tuple[Row, ...]
    differing: tuple[str, ...]
    is_solved: bool
    states: int


def matrix_of(plan: HookUpPlan, at: State, *, is_unfolded: bool = False) -> Matrix:
    """The matrix of a plan; a state that is looked at stands in the column that it is folded into."""
    solved = plan.pictured
    by_lead = [_shown(plan, lead, solved) for lead in plan.leads]
    states = _states(plan, solved)
    cells = {state: tuple(_cell(plan, each, n, state, solved) for n, each in enumerate(by_lead)) for state in states}
    folded: dict[tuple[object, ...], list[State]] = {}
    for n, state in enumerate(states):
        folded.setdefault((n,) if is_unfolded else cells[state], []).append(state)
    columns = tuple(
        Column(group[0], state_name(group[0]), tuple(state_name(each) for each in group[1:]), at in group)
        for group in folded.values()
    )
    rows = []
    for n, lead in enumerate(plan.leads):
        own = tuple(cells[column.state][n] for column in columns)
        rows.append(Row(lead, own, tuple((cell, column.is_at) for cell, column in zip(own, columns, strict=True))))
    return Matrix(columns, tuple(rows), _differing(plan, cells), solved is not None, len(states))


def _states(plan: HookUpPlan, solved: Together | None) -> Sequence[State]:
    if solved is not None:
        return tuple(dict.fromkeys((*plan.states, *(state for shows in solved.shows for state in shows))))
    return plan.states


Shows = tuple[LeadPlan, int | None]


def _shown(plan: HookUpPlan, lead: LeadPlan, solved: Together | None) -> Shows:
    """A lead with its place in the solved design, if it is there."""
    ids = [each.lead.id for each in (plan.leads if plan.together is not None else plan.drawn_leads)]
    return lead, ids.index(lead.lead.id) if solved is not None and lead.lead.id in ids else None


def _cell(plan: HookUpPlan, shown: Shows, n: int, state: State, solved: Together | None) -> Cell:
    lead, place = shown
    wanted: Signal = lead.lead.wanted.signal(state, plan.scenarios[0])
    got, is_wrong = DARK, wanted != DARK
    if solved is not None and place is not None and state in solved.shows[place]:
        wanted = lead.lead.wanted.signal(state, solved.seen_on[place][state])
        got, is_wrong = solved.shows[place][state], state in solved.wrong[place]
    elif lead.shown is not None and state in lead.shown.candidate.states:
        _, got, wanted = lead.shown.candidate.difference(state)
        is_wrong = state in lead.shown.candidate.wrong
    return Cell(signal_name(got), signal_name(wanted), is_wrong)


def _differing(plan: HookUpPlan, cells: dict[State, tuple[Cell, ...]]) -> tuple[str, ...]:
    """What is ringed, a sentence for each lead and mistake."""
    found: dict[tuple[int, str, str], list[State]] = {}
    for state, row in cells.items():
        for n, cell in enumerate(row):
            if cell.is_wrong:
                found.setdefault((n, cell.got, cell.wanted), []).append(state)
    sentences = []
    for (n, got, wanted), states in found.items():
        names = [state_name(state).lower() for state in states]
        more = f" and {len(names) - 3} more states" if len(names) > 4 else ""
        where = ", ".join(names[:3]) + more if more else listed(names)
        title = plan.leads[n].lead.title
        sentences.append(f"{title[0].upper()}{title[1:]}: {got} in {where}, wanted {wanted}.")
    return tuple(sentences)
