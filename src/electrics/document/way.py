"""A chosen hook-up as it is stored and written: its form and the keys of its sources."""

from __future__ import annotations

from dataclasses import dataclass
from urllib.parse import unquote

__all__ = ["UNUSED", "WayKey"]


def _quoted(source: str) -> str:
    """A source's key without the comma that parts it from the next: names of places may have one."""
    return source.replace("%", "%25").replace(",", "%2C")


@dataclass(frozen=True)
class WayKey:
    """Which hook-up was chosen for a lead: `and_not:12,14`.

    Attributes
    ----------
    form : str
        Id of its form; empty for none.
    sources : tuple of str
        Keys of the wires and added sources it takes, in the order of the form.
    """

    form: str
    sources: tuple[str, ...] = ()

    @classmethod
    def read(cls, text: str) -> WayKey:
        """From its text; of nothing, a key of no form."""
        form, _, listed = text.partition(":")
        return cls(form, tuple(unquote(each) for each in listed.split(",") if each))

    def __str__(self) -> str:
        listed = ",".join(self.sources)
        if "%" in listed or listed.count(",") >= max(len(self.sources), 1):  # seldom: a search makes thousands
            listed = ",".join(map(_quoted, self.sources))
        return f"{self.form}:{listed}"

    @property
    def is_unused(self) -> bool:
        return self.form == UNUSED_FORM


UNUSED_FORM = "unused"
UNUSED = str(WayKey(UNUSED_FORM))
"""Chosen for a lead that nothing is joined to: it is capped."""
