"""Job files of any things on any places, as somebody might say them: some have no way, some are refused."""

from __future__ import annotations

from electrics.design.units import unit_kinds

WISHES = (
    "tail", "stop", "reverse", "turn_left", "turn_right", "tail and not reverse", "over(turn_left, tail)",
    "reverse or own_switch", "stop_turn_left", "stop_turn_right", "tail or stop", "ignition and reverse",
    "over(turn_left, stop)", "stop and not turn_left", "battery and own_switch", "battery", "own_switch and not tail",
)  # fmt: skip
KINDS = [kind.id for kind in unit_kinds() if kind.id != "towed_own_lamp"]
"""What stands on a towed car already is tried elsewhere: its lamps are no parts of the job."""
SPOTS = ("canopy", "bumper", "gate")


def said(*functions):
    return [{"pin": str(n), "function": function} for n, function in enumerate(functions, start=1)]


def some_places(rng, arrangement):
    signals = ("stop", "turn_{}") if arrangement == "separate" else ("stop_turn_{}",)
    places = []
    for side in ("left", "right"):
        rear = [function.format(side) for function in ("ground", "tail", *signals, "reverse")]
        places.append({"name": f"{side} tail lamp", "kind": "rear_lamp", "side": side, "wires": said(*rear)})
        front = said("ground", "tail", f"turn_{side}")
        places.append({"name": f"{side} front lamp", "kind": "front_lamp", "side": side, "wires": front})
    places = rng.sample(places, rng.choice([2, 3, 4]))
    if rng.random() < 0.4:
        places.append({"name": "fuse box", "kind": "fuse_box", "wires": said("tail", "reverse", "battery")})
    if rng.random() < 0.3:
        places.append({"name": "high stop", "kind": "high_stop", "wires": said("stop", "ground")})
    return places


def a_unit(rng, name, places):
    unit = {"name": name, "side": rng.choice(["left", "right", ""]), "lamps": rng.choice([1, 1, 1, 3])}
    unit |= {fact: True for fact in ("removable", "swinging", "wet") if rng.random() < 0.15}
    where = rng.random()
    if where < 0.35:
        unit["place"] = rng.choice(SPOTS)
    elif where < 0.6:
        place = rng.choice(places)
        unit |= {"instead_of": place["name"], "side": place.get("side", ""), "lamps": 1}
    if rng.random() < 0.5:
        return unit | {"kind": rng.choice(KINDS)}
    leads = [{"lead": "common", "wants": "ground"}]
    for n in range(rng.choice([1, 2])):
        load = {"amps": rng.choice([0.1, 0.5, 2.1]), "technology": rng.choice(["led", "filament"])}
        leads.append({"lead": f"lead {n}", "wants": rng.choice(WISHES), **load})
    if not unit.get("instead_of") and rng.random() < 0.2:
        leads = [{**each, "wants": "battery" if each["wants"] == "ground" else "reverse"} for each in leads[:2]]
    return unit | {"leads": leads}


def a_job(rng):
    arrangement = rng.choice(["separate", "combined"])
    places = some_places(rng, arrangement)
    units = [a_unit(rng, f"unit {n}", places) for n in range(rng.choice([1, 1, 2, 3]))]
    spots = sorted({unit["place"] for unit in units if "place" in unit})
    habit = {"brake_with_hazard": rng.choice(["flash_wins", "brake_wins"])} if arrangement == "combined" else {}
    return {
        "format": "hailstone-job",
        "version": 1,
        "vehicle": {
            "arrangement": arrangement,
            "computer": rng.choice(["no", "no", "yes"]),
            "system_v": rng.choice([12, 12, 24, 6]),
            **habit,
        },
        "places": places,
        "units": units,
        "distances": [{"between": [spot, places[0]["name"]], "m": round(rng.uniform(0.3, 8), 1)} for spot in spots],
        "runs": [{"ground": rng.choice(["wire", "body", "lamp"]), "joint": rng.choice(["solder", "t_harness"])}],
    }
