"""What can go wrong in the core, by what the caller can do about it.

CoreError
├── InputError          something a person typed; ask again, the message says what was expected
│   ├── ReadingError
│   ├── StateError
│   ├── ReadingsFileError   a whole file refused; `.problems` lists every bad row
│   ├── CircuitError        a circuit that cannot be built or solved; names element and node
│   └── FactError           an impossible vehicle, load or length
└── TableError          a reference table is broken or has no such row
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

__all__ = [
    "CircuitError",
    "CoreError",
    "FactError",
    "InputError",
    "ReadingError",
    "ReadingsFileError",
    "RowProblem",
    "StateError",
    "TableError",
]


class CoreError(Exception):
    """Base of every error the core raises on purpose."""


class InputError(CoreError, ValueError):
    """Something a person typed cannot be used as it stands."""


class StateError(InputError):
    """A control or a combination of controls that does not exist."""


class ReadingError(InputError):
    """A reading that cannot be read.

    Attributes
    ----------
    text : str
        What was typed.
    expected : str
        What the instrument could have shown, in words.
    """

    def __init__(self, text: str, expected: str, why: str = "") -> None:
        self.text, self.expected, self.why = text, expected, why
        shown = text.strip() or "(nothing)"
        super().__init__(f"“{shown}” {why or 'cannot be read'}. Expected {expected}.")


class FactError(InputError):
    """A fact about the vehicle, the load or a length that cannot be true.

    Attributes
    ----------
    field : str
        Which fact.
    """

    def __init__(self, field: str, message: str) -> None:
        self.field = field
        super().__init__(message)


@dataclass(frozen=True)
class RowProblem:
    """One bad row of a file: its line number as an editor counts, and the reason."""

    line: int
    reason: str

    def __str__(self) -> str:
        return f"line {self.line}: {self.reason}"


class ReadingsFileError(InputError):
    """A readings file with bad rows; nothing of it may be stored.

    Attributes
    ----------
    problems : tuple of RowProblem
        Every bad row, in file order.
    """

    def __init__(self, problems: Sequence[RowProblem]) -> None:
        self.problems = tuple(problems)
        super().__init__("\n".join(str(problem) for problem in self.problems))


class TableError(CoreError, LookupError):
    """A reference table is malformed, or has no row for what was asked."""


class CircuitError(InputError):
    """A circuit that cannot be built or solved as it stands.

    Attributes
    ----------
    element, node : str
        Which part or node is meant; empty where it is the whole circuit.
    """

    def __init__(self, element: str, node: str, message: str) -> None:
        self.element, self.node = element, node
        where = f"{element}: " if element else f"node {node}: " if node else ""
        super().__init__(f"{where}{message}")
