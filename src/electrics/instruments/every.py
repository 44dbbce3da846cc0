"""Every instrument, and what it shows on a wire of which one is not sure; a new one is one more class here."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache

from electrics.formats.reading_text import Word
from electrics.instruments.condition import AFLOAT, Condition
from electrics.instruments.display import Display, blend, normal, uniform
from electrics.instruments.lamps import FilamentLamp, FilamentLampPlus, LedProbe
from electrics.instruments.meter import Meter
from electrics.instruments.ohms import LoadedDrop, Ohms
from electrics.instruments.others import Clamp, Hertz, Thermometer
from electrics.instruments.volts import VoltsAC, VoltsDC, standing_at
from electrics.vocabulary import Instrument

__all__ = ["INSTRUMENTS", "PART_V", "SOUND", "SPREAD", "VARYING_V", "Lasting", "meter_for", "shown_in"]

C = Condition
W = Word

INSTRUMENTS: dict[Instrument, Meter] = {
    meter.instrument: meter
    for meter in (
        VoltsDC(),
        VoltsAC(),
        Ohms(),
        Hertz(),
        Clamp(),
        FilamentLamp(),
        FilamentLampPlus(),
        LedProbe(),
        LoadedDrop(),
        Thermometer(),
    )
}


def meter_for(instrument: Instrument) -> Meter:
    """The model of one instrument."""
    return INSTRUMENTS[instrument]


@dataclass(frozen=True)
class Lasting:
    """What lasts through all readings of a wire.

    Attributes
    ----------
    sag : float
        Share of the supply that its feed brings while it is on, where it loses more than a sound one [-]; 0 else.
    ghost : float or None
        Share of the supply at which it stands whenever it floats [-]; None where that comes and goes.
    part : float
        Share of the supply that a meter shows whenever it is fed in pulses [-]; 0 where nothing is known of it.
    varying : float
        The same where a brake controller feeds it [-].
    """

    sag: float = 0.0
    ghost: float | None = None
    part: float = 0.0
    varying: float = 0.0


PART_V = (0.03, 0.85)
"""What a meter makes of a feed in pulses, of the supply [-]: 0.5 to 3.5 V, seldom over 8 V (common practice)."""
VARYING_V = (0.02, 1.0)
"""What a meter makes of a brake controller's output, of the supply [-]."""
SOUND = Lasting()
SPREAD = 0.02
"""How alike the readings of one lasting level are, of the supply [-] (estimate)."""


@lru_cache(maxsize=8192)
def shown_in(
    instrument: Instrument, where: tuple[tuple[Condition, float], ...], supply_v: float, lasting: Lasting = SOUND
) -> Display:
    """What an instrument shows on a pin whose condition is known only by weights."""
    meter = INSTRUMENTS[instrument]
    shown = {condition: meter.display(condition, supply_v) for condition, _ in where}
    if instrument is Instrument.DMM:
        if lasting.sag and C.BATTERY in shown:
            shown[C.BATTERY] = Display(
                (normal(0.92, lasting.sag, SPREAD), uniform(0.05, 0.3, 1.04)), 0.0, {W.ON: 0.03}
            )
        if lasting.part and C.PART in shown:
            shown[C.PART] = Display((normal(0.92, lasting.part, SPREAD), uniform(0.06, *PART_V)), 0.01, {W.DIM: 0.01})
        if lasting.varying and C.VARYING in shown:
            shown[C.VARYING] = Display(
                (normal(0.8, lasting.varying, SPREAD), uniform(0.1, *VARYING_V)), 0.06, {W.DIM: 0.01}
            )
        for condition in (*AFLOAT, C.PULLED_UP_LED) if lasting.ghost is not None else ():
            if condition in shown:
                shown[condition] = standing_at(lasting.ghost or 0.0, SPREAD)
    return blend(*((weight, shown[condition]) for condition, weight in where))
