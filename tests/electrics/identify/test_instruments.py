"""What instruments show, against lamp physics and facts of the trade.

The filament model (heat balance, R_hot (T/T_hot)^1.2, loss k (T^4 - Ta^4)) stands in bench/vehicles.py and
shares no number with the display tables.
"""

from __future__ import annotations

import pytest
from bench.vehicles import MAIN, SMALL, TEST_LAMP, Filament, loaded_drop_v

from electrics.formats.reading_text import Word, parse_reading
from electrics.identify.conditions import Condition
from electrics.identify.display import FLOOR_MASS
from electrics.identify.instruments import INSTRUMENTS, meter_for
from electrics.vocabulary import Instrument


def likeliest(instrument, text, supply_v=12.6, among=tuple(Condition)):
    meter = meter_for(instrument)
    reading = parse_reading(text, instrument)
    return max(among, key=lambda c: meter.likelihood(reading, meter.display(c, supply_v), supply_v))


@pytest.mark.parametrize(
    ("share", "amps"),
    [(0.5, 1.446), (0.7, 1.733), (0.9, 1.984), (1.0, 2.10), (1.1, 2.211)],
)
def test_filament_model_gives_the_handbook_currents(share, amps):
    """12.8 V 2.10 A bulb; current goes with V^0.55 near rated voltage (handbook exponent)."""
    assert MAIN.volts_at(amps) == pytest.approx(12.8 * share, rel=0.002)


def test_resting_feed_cannot_be_told_from_ground_by_a_lamp_to_plus():
    """A test lamp clipped to positive keeps nearly all its light through a cold 21 W filament (common practice)."""
    across_test_lamp = 12.6 - loaded_drop_v(MAIN, 12.6)
    assert (across_test_lamp / 12.6) ** 3.4 == pytest.approx(0.94, abs=0.02)
    plus = meter_for(Instrument.TEST_LAMP_PLUS)
    shown = [plus.display(c, 12.6).mass(Word.ON) for c in (Condition.GROUND, Condition.COLD_MAIN)]
    assert min(shown) > 0.9


@pytest.mark.parametrize(
    ("lamp", "condition"),
    [(MAIN, Condition.COLD_MAIN), (SMALL, Condition.COLD_SMALL), (Filament(13.5, 0.59, 2500), Condition.COLD_SMALL)],
)
def test_loaded_drop_reads_the_filament_that_physics_predicts(lamp, condition):
    drop_v = loaded_drop_v(lamp, 12.6)
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


def test_a_filament_test_lamp_draws_a_real_current():
    """About 0.25 A (common practice): a bulb of 3 W."""
    assert TEST_LAMP.rated_v * TEST_LAMP.rated_a == pytest.approx(3.15)
