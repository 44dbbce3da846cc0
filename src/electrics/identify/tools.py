"""The instruments at hand: what a person has, and what can be asked of them with it."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from dataclasses import dataclass, replace

from electrics.document.places import Setup
from electrics.vocabulary import Instrument

__all__ = ["EVERY_TOOL", "TOOLS", "Tool", "with_tools"]


@dataclass(frozen=True)
class Tool:
    """Something that lies in the box, and what is read with it alone."""

    id: str
    reads: frozenset[Instrument]


TOOLS = (
    Tool("multimeter", frozenset({Instrument.DMM, Instrument.DMM_AC, Instrument.OHMS, Instrument.HERTZ})),
    Tool("test_lamp", frozenset({Instrument.TEST_LAMP, Instrument.TEST_LAMP_PLUS})),
    Tool("led_probe", frozenset({Instrument.LED_PROBE})),
    Tool("clamp", frozenset({Instrument.CLAMP})),
)
EVERY_TOOL = frozenset(tool.id for tool in TOOLS)
"""What somebody has of whom nothing else is known."""
LOOKS = (Instrument.DMM, Instrument.LED_PROBE, Instrument.TEST_LAMP)
"""What sees whether something is on a wire."""
TOGETHER = {Instrument.LOADED_DROP: frozenset({"multimeter", "test_lamp"})}
"""What takes two of them."""


def with_tools(setups: Iterable[Setup], tools: frozenset[str], *, computer_fed: bool) -> Iterator[Setup]:
    """The set-ups that can be had with some tools, in order.

    Volts are looked at with a probe, or a test lamp where no computer feeds, by whoever has no meter: on, off and
    flashing tell a function as well, only not how much.
    """
    has = frozenset().union(*(tool.reads for tool in TOOLS if tool.id in tools))
    instead = [Instrument.LED_PROBE, *([] if computer_fed else [Instrument.TEST_LAMP])]
    for setup in setups:
        if setup.instrument in has or TOGETHER.get(setup.instrument, frozenset({""})) <= tools:
            yield setup
        elif setup.instrument is Instrument.DMM:
            substitute = next((each for each in instead if each in has), None)
            if substitute is not None:
                yield replace(setup, instrument=substitute)
