"""Where the displays of instruments fall, against lamp physics and facts of the trade.

Circuits are solved with the instrument in place: the filament model shares no number with the displays.
"""

from __future__ import annotations

import pytest

from electrics.circuit.elements import Battery, Lamp
from electrics.circuit.network import Network
from electrics.formats.reading_text import Word, parse_reading
from electrics.instruments.condition import Condition
from electrics.instruments.display import FLOOR_MASS
from electrics.instruments.every import INSTRUMENTS, meter_for
from electrics.instruments.meter import Probe
from electrics.vocabulary import Instrument


def likeliest(instrument, text, supply_v=12.6, among=tuple(Condition)):
    meter = meter_for(instrument)
    reading = parse_reading(text, instrument)
    return max(among, key=lambda c: meter.likelihood(reading, meter.display(c, supply_v), supply_v))


MAIN, SMALL = {"rated_v": 12.8, "rated_a": 2.10}, {"rated_v": 14.0, "rated_a": 0.59, "hot_k": 2500.0}


def loaded_drop_v(lamp):
    """Volts on the resting feed of a lamp while a test lamp pulls it to battery positive [V]."""
    battery = Battery(name="battery", nodes={"+": "bat", "-": "gnd"}, volts=12.6)
    network = Network((battery, Lamp(name="lamp", nodes={"from": "pin", "to": "gnd"}, **lamp)))
    return meter_for(Instrument.LOADED_DROP).read(Probe(network, "pin"), ["rest"])[0].low


def test_resting_feed_cannot_be_told_from_ground_by_a_lamp_to_plus():
    """A test lamp clipped to positive keeps nearly all its light through a cold 21 W filament (common practice)."""
    across_test_lamp = 12.6 - loaded_drop_v(MAIN)
    assert (across_test_lamp / 12.6) ** 3.4 == pytest.approx(0.94, abs=0.02)
    plus = meter_for(Instrument.TEST_LAMP_PLUS)
    shown = [plus.display(c, 12.6).mass(Word.ON) for c in (Condition.GROUND, Condition.COLD_MAIN)]
    assert min(shown) > 0.9


@pytest.mark.parametrize(
    ("lamp", "condition"),
    [(MAIN, Condition.COLD_MAIN), (SMALL, Condition.COLD_SMALL), (SMALL | {"rated_v": 13.5}, Condition.COLD_SMALL)],
)
def test_loaded_drop_reads_the_filament_that_physics_predicts(lamp, condition):
    drop_v = loaded_drop_v(lamp)
    among = (Condition.GROUND, Condition.COLD_MAIN, Condition.COLD_SMALL, Condition.LED_LAMP, Condition.FLOATING)
    assert likeliest(Instrument.LOADED_DROP, f"{drop_v:.3f}", among=among) is condition


@pytest.mark.parametrize(
    ("instrument", "text", "condition"),
    [
        # common practice, no source
        (Instrument.LOADED_DROP, "0.02", Condition.GROUND),
        (Instrument.LOADED_DROP, "0.2", Condition.COLD_MAIN),
        (Instrument.LOADED_DROP, "1.8", Condition.COLD_SMALL),
        (Instrument.LOADED_DROP, "8", Condition.LED_LAMP),
        (Instrument.LOADED_DROP, "12.5", Condition.FLOATING),
        (Instrument.DMM, "12.2", Condition.BATTERY),
        (Instrument.DMM, "14.2", Condition.CHARGING),
        (Instrument.DMM, "0-12", Condition.FLASH),
        (Instrument.DMM, "flashing", Condition.FLASH),
        (Instrument.DMM, "3.1", Condition.PART),
        (Instrument.DMM, "OL", Condition.FLOATING),
        (Instrument.OHMS, "0.2 ohm", Condition.GROUND),
        (Instrument.OHMS, "0.6 ohm", Condition.COLD_MAIN),
        (Instrument.OHMS, "OL", Condition.FLOATING),
        (Instrument.TEST_LAMP, "dim", Condition.PART),
        (Instrument.TEST_LAMP, "flash", Condition.FLASH),
        (Instrument.LED_PROBE, "red", Condition.BATTERY),
        (Instrument.LED_PROBE, "red/green", Condition.FLASH),
        (Instrument.LED_PROBE, "both", Condition.PART),
        (Instrument.HERTZ, "120 Hz", Condition.PART),
        (Instrument.HERTZ, "90 /min", Condition.FLASH),
    ],
)
def test_the_reading_points_where_a_tradesman_looks(instrument, text, condition):
    rivals = {  # of conditions that show the same (afloat; live or open under the loaded drop) only one
        Condition.GROUND,
        Condition.COLD_MAIN,
        Condition.COLD_SMALL,
        Condition.FLOATING,
        Condition.FLASH,
        Condition.PART,
    } | ({Condition.BATTERY} if condition is not Condition.FLOATING else set())
    among = tuple(rivals | {condition})
    assert likeliest(instrument, text, among=among) is condition


def test_a_bus_rests_near_two_and_a_half_volts():
    """Recessive level 2.0 to 3.0 V, ISO 11898-2."""
    among = (Condition.BUS_FAST, Condition.BATTERY, Condition.GROUND, Condition.FLOATING, Condition.PART)
    assert likeliest(Instrument.DMM, "2.5", among=among) is Condition.BUS_FAST


@pytest.mark.parametrize(("supply_v", "text"), [(6.3, "6.1"), (12.6, "12.2"), (25.2, "24.4")])
def test_everything_is_relative_to_the_battery(supply_v, text):
    among = (Condition.BATTERY, Condition.GROUND, Condition.PART, Condition.FLOATING)
    assert likeliest(Instrument.DMM, text, supply_v, among) is Condition.BATTERY


@pytest.mark.parametrize("instrument", [i for i, meter in INSTRUMENTS.items() if meter.is_evidence])
@pytest.mark.parametrize("condition", list(Condition))
def test_a_display_is_a_distribution(instrument, condition):
    """What is listed sums to about one, so no condition is favoured by careless weights."""
    shown = INSTRUMENTS[instrument].display(condition, 12.6)
    total = sum(shape.weight for shape in shown.numbers) + shown.swing + sum(shown.words.values())
    assert total == pytest.approx(1.0, abs=0.025)
    outcomes = shown.outcomes(INSTRUMENTS[instrument].edges)
    assert outcomes.sum() == pytest.approx(1.0)
    assert outcomes.min() >= FLOOR_MASS * 0.9
