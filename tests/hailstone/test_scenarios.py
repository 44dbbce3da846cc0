"""Which vehicles a hook-up must be right on: those that the readings leave open, the likeliest first."""

from __future__ import annotations

import pytest

from briefs import BRIEF
from electrics.document.places import Setup
from electrics.job.beliefs import scenarios_left, settled_circuits
from electrics.signals import Scenario
from electrics.vocabulary import Arrangement, BrakeWithHazard, Function, Instrument, Load, parse_state
from hailstone.identify.services import save_reading
from hailstone.jobs.models import Job
from hailstone.jobs.services import begin_job
from hailstone.layers.beliefs import beliefs
from measured import COMBINED, SEPARATE, measured

pytestmark = pytest.mark.django_db
FLASH, BRAKE = (
    Scenario(Arrangement.COMBINED, who) for who in (BrakeWithHazard.FLASH_WINS, BrakeWithHazard.BRAKE_WINS)
)


def possible(job):
    return scenarios_left([*beliefs(job).values()])


@pytest.fixture
def job(who):
    return begin_job(who, BRIEF)


def fresh(job):
    return Job.objects.get(id=job.id)


def test_before_anything_is_measured_it_is_the_commonest(job):
    assert possible(job) == (Scenario(Arrangement.SEPARATE),)


@pytest.mark.parametrize("truth", [FLASH, BRAKE])
def test_who_wins_of_brake_and_hazards_is_open_until_it_is_measured(job, who, truth):
    measured(job, who, COMBINED, truth, 1)
    assert possible(fresh(job)) == (truth,)
    job.points.get().pins.get(label="4").readings.filter(state="brake+hazard").delete()
    job.points.get().pins.get(label="5").readings.filter(state="brake+hazard").delete()
    assert set(possible(fresh(job))) == {FLASH, BRAKE}
    pin = job.points.get().pins.get(label="4")
    shown = "0-12.2" if truth is FLASH else "12.2"
    save_reading(pin, Setup(parse_state("brake+hazard"), Instrument.DMM, Load.IN), shown, 12.6, who)
    assert possible(fresh(job))[0] == truth


def test_separate_signals_have_one_variant_and_daytime_lamps_come_with_it(job, who):
    truth = Scenario(Arrangement.SEPARATE, drl="engine")
    measured(
        job,
        who,
        (*SEPARATE, Function.DRL),
        truth,
        1,
        more=("engine", "engine+left", "engine+park", "brake+engine", "engine+reverse"),
    )
    assert (Function.DRL, "engine") in settled_circuits([*beliefs(fresh(job)).values()])
    assert possible(fresh(job)) == (truth,)


@pytest.mark.parametrize("side", ["left", "right"])
def test_a_daytime_lamp_that_drops_while_its_side_flashes_is_told_from_one_that_stays(job, who, side):
    """Its wire goes dark with that indicator and the hazards only (common practice); the lamp itself is wanted lit."""
    truth = Scenario(Arrangement.SEPARATE, drl=f"key_drops_{side}")
    measured(job, who, (*SEPARATE, Function.DRL), truth, 1)
    assert (Function.DRL, f"key_drops_{side}") in settled_circuits([*beliefs(fresh(job)).values()])
    assert possible(fresh(job)) == (Scenario(Arrangement.SEPARATE, drl="key"),)
