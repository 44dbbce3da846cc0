"""All leads against all states: what each lamp shows and where that's wrong, with matching states in one column."""

from __future__ import annotations

from dataclasses import dataclass

from electrics.job.hookup_plan import HookUpPlan, LeadPlan
from electrics.signals import DARK, Signal
from electrics.vocabulary import State
from hailstone.wording.words import listed, signal_name, state_name

__all__ = ["Matrix", "MatrixCell", "MatrixColumn", "MatrixRow", "matrix_of"]


@dataclass(frozen=True)
class MatrixCell:
    """What one lead shows in one state."""

    got: str
    wanted: str
    is_wrong: bool

    @property
    def title(self) -> str:
        """In words."""
        return f"{self.got}, wanted {self.wanted}" if self.is_wrong else self.got


@dataclass(frozen=True)
class MatrixColumn:
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
class MatrixRow:
    """One lead: each cell, and whether its column is the one that is looked at."""

    lead: LeadPlan
    cells: tuple[tuple[MatrixCell, bool], ...]

    @property
    def wrong(self) -> int:
        """Columns in which it shows the wrong thing [-]."""
        return sum(cell.is_wrong for cell, _ in self.cells)


@dataclass(frozen=True)
class Matrix:
    """The whole table; `differing` says in words what is ringed."""

    columns: tuple[MatrixColumn, ...]
    rows: tuple[MatrixRow, ...]
    differing: tuple[str, ...]
    is_solved: bool
    states: int


def matrix_of(plan: HookUpPlan, at: State, *, is_unfolded: bool = False) -> Matrix:
    """The matrix of a plan; a state that is shown marks the column it belongs to."""
    order = [each.lead.id for each in (plan.leads if plan.together is not None else plan.drawn_leads)]
    places = [order.index(each.lead.id) if each.lead.id in order else None for each in plan.leads]
    states = plan.pictured_states
    cells = {
        state: tuple(_cell(plan, *each, state) for each in zip(plan.leads, places, strict=True)) for state in states
    }
    folded: dict[tuple[object, ...], list[State]] = {}
    for n, state in enumerate(states):
        folded.setdefault((n,) if is_unfolded else cells[state], []).append(state)
    columns = tuple(
        MatrixColumn(group[0], state_name(group[0]), tuple(state_name(each) for each in group[1:]), at in group)
        for group in folded.values()
    )
    rows = tuple(
        MatrixRow(lead, tuple((cells[column.state][n], column.is_at) for column in columns))
        for n, lead in enumerate(plan.leads)
    )
    return Matrix(columns, rows, _differing(plan, cells), plan.pictured is not None, len(states))


def _cell(plan: HookUpPlan, lead: LeadPlan, place: int | None, state: State) -> MatrixCell:
    """A lead in a state: as solved where it has a place in the design, else by the logic of its way, else dark."""
    solved = plan.pictured
    wanted: Signal = lead.lead.wanted.signal(state, plan.scenarios[0])
    got, is_wrong = DARK, wanted != DARK
    if solved is not None and place is not None and state in solved.shows[place]:
        wanted = lead.lead.wanted.signal(state, solved.seen_on[place][state])
        got, is_wrong = solved.shows[place][state], state in solved.wrong[place]
    elif lead.shown is not None and state in lead.shown.candidate.states:
        _, got, wanted = lead.shown.candidate.difference(state)
        is_wrong = state in lead.shown.candidate.wrong
    return MatrixCell(signal_name(got), signal_name(wanted), is_wrong)


def _differing(plan: HookUpPlan, cells: dict[State, tuple[MatrixCell, ...]]) -> tuple[str, ...]:
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
