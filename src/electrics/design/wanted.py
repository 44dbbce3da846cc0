"""Behaviour wanted of a lamp, as an expression over functions: `tail and not reverse`, `over(turn_left, tail)`.

`and`, `or` and `not` work on what is on in each flash phase. `own_switch` is a switch of one's own, on by
hand. `over(a, b)` is what one filament with two uses does: a wherever it is on or flashing, b elsewhere; so it
differs from `a or b`, where steady wins.
"""

from __future__ import annotations

import re
from collections.abc import Callable
from dataclasses import dataclass
from functools import lru_cache

from electrics.errors import FactError
from electrics.signals import DARK, LIT, Level, Scenario, Signal, signal
from electrics.vocabulary import Control, Function, State

__all__ = ["Wanted", "parse_wanted"]

_TOKEN = re.compile(r"\s*(\(|\)|,|[a-z_]+)")
_SPACED = re.compile(
    "|".join(
        rf"\b{each.replace('_', ' ')}\b".replace(" ", r"\s+")
        for each in sorted([*Function, Control.OWN_SWITCH], key=len, reverse=True)
        if "_" in each
    )
)
"""What is written with a space between its words: `turn left`."""
DEEPEST = 20
"""Brackets within brackets that are read [-]."""
Meaning = Callable[[State, Scenario], Signal]


@dataclass(frozen=True)
class Wanted:
    """A wanted behaviour.

    Attributes
    ----------
    text : str
        As it is written.
    functions : tuple of Function
        What it speaks of, in order of appearance.
    has_own_switch : bool
        It speaks of a switch of one's own as well.
    overs : tuple of (Wanted, Wanted)
        Front and back of every filament with two uses in it.
    """

    text: str
    functions: tuple[Function, ...]
    meaning: Meaning
    has_own_switch: bool = False
    overs: tuple[tuple[Wanted, Wanted], ...] = ()

    def __eq__(self, other: object) -> bool:
        return isinstance(other, Wanted) and self.text == other.text

    def __hash__(self) -> int:
        return hash(self.text)

    def signal(self, state: State, scenario: Scenario) -> Signal:
        """What is wanted in a state on a vehicle of this arrangement."""
        return self.meaning(state, scenario)


@lru_cache(maxsize=256)
def parse_wanted(text: str) -> Wanted:
    """Read a wanted behaviour.

    Parameters
    ----------
    text : str
        Function ids or `own_switch`, with `_` or a space between their words; joined
        by `and`, `or`, `not`, `over(a, b)` and parentheses.

    Returns
    -------
    Wanted

    Raises
    ------
    FactError
        It cannot be read; the message says where.
    """
    text = _SPACED.sub(lambda found: re.sub(r"\s+", "_", found[0]), text.lower())
    reader = _WantedReader(text)
    meaning = reader.any_of()
    if reader.rest:
        raise FactError("wanted", f"“{text}” cannot be read from “{' '.join(reader.rest)}” on.")
    if not reader.functions:
        raise FactError(
            "wanted",
            f"“{text}” needs nothing of the vehicle. Expected at least one function of a wire: a switch of your own "
            "passes on what feeds it, “battery and own_switch”.",
        )
    functions = tuple(dict.fromkeys(reader.functions))
    overs = tuple(
        (Wanted(f"{text} #{n} front", functions, front), Wanted(f"{text} #{n} back", functions, back))
        for n, (front, back) in enumerate(reader.overs)
    )
    return Wanted(text, functions, meaning, reader.has_own_switch, overs)


class _WantedReader:
    """Recursive descent over tokens; each rule returns what it means."""

    def __init__(self, text: str) -> None:
        self.text = text
        self.rest: list[str] = []
        self.functions: list[Function] = []
        self.has_own_switch = False
        self.depth = 0
        self.overs: list[tuple[Meaning, Meaning]] = []
        position = 0
        while position < len(text.rstrip()):
            match = _TOKEN.match(text, position)
            if match is None:
                raise FactError("wanted", f"“{text}” cannot be read from “{text[position:].strip()}” on.")
            self.rest.append(match[1])
            position = match.end()

    def take(self, expected: str = "") -> str:
        if not self.rest or (expected and self.rest[0] != expected):
            found = f"“{self.rest[0]}”" if self.rest else "its end"
            raise FactError("wanted", f"“{self.text}”: expected {expected or 'a function'} at {found}.")
        return self.rest.pop(0)

    def any_of(self) -> Meaning:
        self.depth += 1
        if self.depth > DEEPEST:
            raise FactError("wanted", f"This wish stands in more than {DEEPEST} brackets. Expected a plainer one.")
        parts = [self.all_of()]
        while self.rest[:1] == ["or"]:
            self.take()
            parts.append(self.all_of())
        self.depth -= 1
        return parts[0] if len(parts) == 1 else _joined(parts, any)

    def all_of(self) -> Meaning:
        parts = [self.one()]
        while self.rest[:1] == ["and"]:
            self.take()
            parts.append(self.one())
        return parts[0] if len(parts) == 1 else _joined(parts, all)

    def one(self) -> Meaning:
        word = self.take()
        if word == "not":
            self.depth += 1
            if self.depth > DEEPEST:
                raise FactError("wanted", f"This wish says not more than {DEEPEST} times. Expected a plainer one.")
            inner = self.one()
            self.depth -= 1
            return lambda state, scenario: _phases(*(not on for on in _on(inner(state, scenario))))
        if word == "(":
            inner = self.any_of()
            self.take(")")
            return inner
        if word == "over":
            self.take("(")
            front = self.any_of()
            self.take(",")
            back = self.any_of()
            self.take(")")
            self.overs.append((front, back))
            return lambda state, scenario: (
                back(state, scenario) if front(state, scenario) == DARK else front(state, scenario)
            )
        if word == Control.OWN_SWITCH:
            self.has_own_switch = True
            return lambda state, scenario: LIT if state.on(Control.OWN_SWITCH) else DARK
        if word not in set(Function):
            raise FactError("wanted", f"“{self.text}”: “{word}” is no function of a wire.")
        function = Function(word)
        self.functions.append(function)
        return lambda state, scenario: signal(function, state, scenario)


def _on(found: Signal) -> tuple[bool, bool]:
    return found.lit is not Level.OFF, found.dark is not Level.OFF


def _phases(lit: bool, dark: bool) -> Signal:
    return Signal(Level.ON if lit else Level.OFF, Level.ON if dark else Level.OFF)


def _joined(parts: list[Meaning], how: Callable[[list[bool]], bool]) -> Meaning:
    def meaning(state: State, scenario: Scenario) -> Signal:
        found = [_on(part(state, scenario)) for part in parts]
        return _phases(how([lit for lit, _ in found]), how([dark for _, dark in found]))

    return meaning
