"""Where a display falls: probability over numbers, a swinging display and words.

Numbers keep their value (a density), words are masses. Readings are only ever compared under the same
reading, so the two need no common measure.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from math import erf, exp, pi, sqrt

import numpy as np
from numpy.typing import NDArray

from electrics.formats.reading_text import Word

__all__ = ["FLOOR_DENSITY", "Display", "Shape", "blend", "normal", "uniform"]

FLOOR_MASS = 2e-4
"""Mass of a word that a table does not list: rare, never impossible."""
FLOOR_DENSITY = 2e-3
"""Density of a number that no shape covers: rare, never impossible."""


@dataclass(frozen=True)
class Shape:
    """A normal (centre, spread) or a uniform (from, to) on the instrument's own axis."""

    weight: float
    a: float
    b: float
    is_normal: bool

    def density(self, x: float) -> float:
        if self.is_normal:
            z = (x - self.a) / self.b
            return self.weight * exp(-0.5 * z * z) / (self.b * sqrt(2 * pi))
        return self.weight / (self.b - self.a) if self.a <= x <= self.b else 0.0

    def below(self, x: float) -> float:
        """The weight that lies below `x`."""
        if self.is_normal:
            return self.weight * 0.5 * (1 + erf((x - self.a) / (self.b * sqrt(2))))
        return self.weight * min(1.0, max(0.0, (x - self.a) / (self.b - self.a)))


def normal(weight: float, centre: float, spread: float) -> Shape:
    """A bump of this weight [-] around a centre, on the instrument's axis."""
    return Shape(weight, centre, spread, True)


def uniform(weight: float, low: float, high: float) -> Shape:
    """A plateau of this weight [-] between two ends, on the instrument's axis."""
    return Shape(weight, low, high, False)


@dataclass(frozen=True)
class Display:
    """What one instrument shows on a wire in one condition.

    Attributes
    ----------
    numbers : tuple of Shape
        Where a steady number falls.
    swing : float
        Mass of a display that swings the whole way [-].
    words : mapping of Word to float
        Mass of each word [-].
    """

    numbers: tuple[Shape, ...] = ()
    swing: float = 0.0
    words: Mapping[Word, float] = field(default_factory=dict)

    def density(self, x: float) -> float:
        """Density of the number `x` on the instrument's axis."""
        return FLOOR_DENSITY + sum(shape.density(x) for shape in self.numbers)

    def mass(self, word: Word | None) -> float:
        """Mass of a word, or of the swing for None [-]."""
        return max(FLOOR_MASS, self.swing if word is None else self.words.get(word, 0.0))

    def outcomes(self, edges: tuple[float, ...]) -> NDArray[np.float64]:
        """Chance of each kind of outcome: numbers between the edges, swing, then every word.

        Parameters
        ----------
        edges : tuple of float
            Rising borders on the instrument's axis.

        Returns
        -------
        ndarray (len(edges) + 2 + len(Word),)
            Sums to 1 [-].
        """
        below = [sum(shape.below(edge) for shape in self.numbers) for edge in edges]
        total = sum(shape.weight for shape in self.numbers)
        bins = np.diff([0.0, *below, total])
        chances = np.array([*bins, self.swing, *(self.words.get(word, 0.0) for word in Word)])
        chances = np.maximum(chances, FLOOR_MASS)
        return np.asarray(chances / chances.sum(), dtype=np.float64)


def blend(*parts: tuple[float, Display]) -> Display:
    """The mixture of displays with these weights."""
    words: dict[Word, float] = {}
    for weight, part in parts:
        for word, mass in part.words.items():
            words[word] = words.get(word, 0.0) + weight * mass
    return Display(
        tuple(Shape(w * s.weight, s.a, s.b, s.is_normal) for w, part in parts for s in part.numbers),
        sum(weight * part.swing for weight, part in parts),
        words,
    )
