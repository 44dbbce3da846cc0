"""Called right means right in every state: the search held against plain Python logic over all combinations."""

from __future__ import annotations

import random
from itertools import permutations

import pytest

from electrics.design.accessories import accessories
from electrics.design.states import is_hidden, is_never
from electrics.design.wanted import parse_wanted
from electrics.formats.json_file import FileError
from electrics.vocabulary import Polarity
from hookup_jobs import COMBINED, REAR, job, judged
from plain_logic import CONTROLS, both, carries, gives, moments, wish_names, wish_text, wish_value

POOL = tuple(name for name in CONTROLS if name not in ("battery", "own_switch", "tail_left", "tail_right"))
N_WISHES = 500


def carried_in(names, on, found):
    scenario = found.scenarios[0]
    variants = {"low_beam": "stays", "drl": "key"} | {str(f): variant for f, variant in found.functions.values()}
    wins = scenario.brake_with_hazard == "flash_wins"
    return {name: carries(name, on, flash_wins=wins, variant=variants.get(name, "")) for name in names}


OWN = {"@battery": "battery", "@switch": "own_switch", "@ignition": "ignition"}


def names_of(candidate):
    return [OWN.get(source.key, source.key) for source in candidate.sources]


def is_right(names, wish, found, value):
    """Whether what is given is what is wanted in all combinations of the controls that either hangs on."""
    spoken = {*names, *wish_names(wish)}
    controls = set().union(*(CONTROLS[name] for name in spoken))
    for on in moments(controls):
        carried = carried_in(spoken, on, found)
        if value([carried[name] for name in names]) != wish_value(wish, carried):
            return False
    return True


def tree(rng, names, depth):
    if depth == 0 or rng.random() < 0.25:
        return rng.choice(names)
    how = rng.choice(["and", "or", "and", "or", "not", "over"])
    if how == "not":
        return ("and", tree(rng, names, depth - 1), ("not", tree(rng, names, depth - 1)))
    return (how, tree(rng, names, depth - 1), tree(rng, names, depth - 1))


def check(found, lead, wish):
    """Both ways: whatever is called right is right, and the plain networks are offered wherever they are right."""
    candidates = {each.key: each for each in found.candidates(lead)}
    wrong = []
    for key, each in candidates.items():
        if not each.wrong:
            right = is_right(names_of(each), wish, found, lambda inputs, form=each.form: gives(form, inputs))
            wrong += [] if right else [key]
    assert not wrong, f"called right for {lead.wanted.text}: {wrong}"
    by_name = {name: key for key, name in OWN.items() if key in {s.key for s in found.sources}}
    tapped = [name for name in found.functions if name != "battery"]
    keys = by_name | {name: name for name in tapped}
    for a, b in permutations(keys, 2):
        if b != "battery" and {a, b} <= wish_names(wish) and is_right([a, b], wish, found, lambda pair: both(*pair)):
            assert f"and:{keys[a]},{keys[b]}" in candidates, f"no make contact for {lead.wanted.text}"
    plainest = "direct" if lead.polarity is Polarity.POSITIVE else "to_ground"
    for name in tapped:
        if is_right([name], wish, found, lambda inputs: inputs[0]):
            assert not candidates[f"{plainest}:{name}"].wrong


def test_five_hundred_random_wishes_on_random_sources_are_right_in_every_state_or_not_called_so():
    rng = random.Random(20261127)
    n_right = 0
    for n in range(N_WISHES):
        names = rng.sample(POOL, rng.randint(2, 6))
        wish = tree(rng, names if rng.random() < 0.9 else POOL, rng.choice([1, 1, 2]))
        text = wish_text(wish)
        if is_never(parse_wanted(text)):
            with pytest.raises(FileError, match="never lit"):
                job(names, leads=[{"lead": "own", "wanted": text, "each_a": 0.3}])
            continue
        variants = {"low_beam": rng.choice(["stays", "leaves"]), "drl": rng.choice(["key", "engine"])}
        more = {"brake_with_hazard": rng.choice(["flash_wins", "brake_wins"])}
        kinds = ["separate", "combined"]
        found = job(
            names, kinds[n % 2], variants=variants, leads=[{"lead": "own", "wanted": text, "each_a": 0.3}], **more
        )
        check(found, found.leads[0], wish)
        n_right += any(each.is_right for each in found.candidates(found.leads[0]))
    assert n_right > N_WISHES / 3, "most wishes would have no way at all: nothing was tested"


@pytest.mark.parametrize("accessory", [each.id for each in accessories()])
def test_every_accessory_is_right_in_every_state_or_not_called_so(accessory):
    more = ("drl", "low_beam", "high_beam", "fog_front")
    for arrangement, functions in (("separate", (*REAR, *more)), ("combined", (*COMBINED, "stop", *more))):
        found = job(functions, arrangement, accessory=accessory, brake_with_hazard="flash_wins")
        for lead in found.leads:
            check(found, lead, written(lead.wanted.text))


def written(text):
    """The few shapes of wish that the table of accessories has, as a tree."""
    if text.startswith("over("):
        return ("over", *text[5:-1].split(", "))
    if " and not " in text:
        first, second = text.split(" and not ")
        return ("and", first, ("not", second))
    if " or " in text:
        return ("or", *text.split(" or "))
    return text


@pytest.mark.parametrize(
    ("wanted", "functions", "wrong_way", "state"),
    [
        ("high_beam", ("fog_front", "high_beam"), "direct:fog_front", "high"),
        ("tail_right", ("tail_left", "tail_right"), "direct:tail_left", "park_right"),
    ],
)
def test_what_a_source_hangs_on_is_compared_too(wanted, functions, wrong_way, state):
    found = job(functions, leads=[{"lead": "own", "wanted": wanted, "each_a": 0.3}])
    best, *others = judged(found)
    assert best.candidate.key == f"direct:{wanted}"
    assert best.is_right
    rival = next(each for each in others if each.candidate.key == wrong_way)
    assert state in {str(each) for each in rival.wrong}


def test_a_cornering_lamp_takes_the_plain_make_contact_whose_relay_rests():
    found = job(
        ("low_beam", "turn_left", "turn_right", "tail"),
        leads=[{"lead": "corner", "wanted": "low_beam and turn_left", "each_a": 1.0}],
    )
    ways = judged(found)
    assert ways[0].candidate.form.id == "and"
    assert set(ways[0].candidate.key.partition(":")[2].split(",")) == {"low_beam", "turn_left"}
    assert ways[0].is_right
    assert ways[0].upsets == ()
    assert not [each.candidate.key for each in ways if each.is_right and each.candidate.merits.held_coils]


def test_a_daytime_lamp_that_dims_is_not_kept_full_by_a_converter():
    """With the engine running and the position lamps on it burns part: no module gives that."""
    found = job(
        ("turn_left", "turn_right", "tail", "drl"),
        variants={"drl": "engine_dims"},
        accessory="front_daytime",
    )
    left = next(lead for lead in found.leads if lead.id == "left")
    converters = [each for each in found.candidates(left) if each.form.id == "converter"]
    assert converters
    assert not any(each.is_right for each in converters)


def test_a_coil_that_is_pulled_in_with_everything_off_is_an_upset():
    found = job(REAR, leads=[{"lead": "own", "wanted": "battery and tail", "each_a": 0.3}])
    held = next(each for each in found.candidates(found.leads[0]) if each.key == "and:@battery,tail")
    assert held.merits.held_coils == 1
    assert "coil_at_rest" in {upset.rule for upset in found.trial(found.leads[0], held).upsets}


def test_a_voltage_that_varies_is_a_source_for_nothing_but_itself():
    functions = ("turn_left", "turn_right", "tail", "brake_controller")
    stop = job(functions, leads=[{"lead": "red", "wanted": "stop_turn_left", "each_a": 0.3}])
    assert not [each.key for each in stop.candidates(stop.leads[0]) if "brake_controller" in each.key]
    brakes = job(functions, leads=[{"lead": "blue", "wanted": "brake_controller", "each_a": 3.0}])
    assert judged(brakes)[0].candidate.key == "direct:brake_controller"
    assert judged(brakes)[0].is_right


@pytest.mark.parametrize("wanted", ["over(stop, tail)", "over(stop_turn_left, tail)"])
def test_a_filament_that_burns_steadily_for_the_brake_and_for_the_tail_is_never_right(wanted):
    """With the lights on the brake cannot be seen; flashing over a steady tail can."""
    found = job((*REAR, "stop_turn_left"), leads=[{"lead": "red", "wanted": wanted, "each_a": 2.1}])
    candidates = found.candidates(found.leads[0])
    assert candidates
    assert all("hidden" in each.refusals for each in candidates)
    assert not is_hidden(parse_wanted("over(turn_left, tail)"))
    assert not is_hidden(parse_wanted("tail_stop_dimmed"))


@pytest.mark.parametrize("wanted", ["stop and not stop", "spare", "turn_left and not turn_left"])
def test_a_wish_that_is_never_true_is_refused(wanted):
    with pytest.raises(FileError, match="never lit"):
        job(REAR, leads=[{"lead": "own", "wanted": wanted, "each_a": 0.3}])


def test_a_wish_is_read_with_spaces_and_capitals_as_with_identifiers():
    assert parse_wanted("over(Turn left, tail) or stop turn  right") == parse_wanted(
        "over(turn_left, tail) or stop_turn_right"
    )
