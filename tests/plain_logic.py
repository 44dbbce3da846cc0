"""What wires carry and networks give, in Python's own logic: shares no code with signals, states, forms or search.

A signal is a pair of truths, for the lit and the dark half of a flash. What a vehicle has is common practice.
"""

from __future__ import annotations

from itertools import combinations

BRINGS = {
    **{key: {"key"} for key in ("left", "right", "reverse", "engine")},
    **{key: {"key", "park"} for key in ("low", "high", "fog_front", "fog_rear")},
}
NEVER_TOGETHER = ({"left", "right"}, {"park_left", "park_right"})
CONTROLS = {
    "tail": {"park"},
    "tail_left": {"park", "park_left"},
    "tail_right": {"park", "park_right"},
    "stop": {"brake"},
    "turn_left": {"left", "hazard"},
    "turn_right": {"right", "hazard"},
    "stop_turn_left": {"left", "hazard", "brake"},
    "stop_turn_right": {"right", "hazard", "brake"},
    "reverse": {"reverse"},
    "low_beam": {"low", "high"},
    "high_beam": {"high"},
    "fog_front": {"fog_front"},
    "fog_rear": {"fog_rear"},
    "ignition": {"key"},
    "drl": {"key", "engine", "park"},
    "battery": set(),
    "own_switch": {"own_switch"},
}


def moments(controls):
    """Every set of these controls that can be on together, with what they bring along."""
    found = set()
    for count in range(len(controls) + 1):
        for on in combinations(sorted(controls), count):
            if not any(pair <= set(on) for pair in NEVER_TOGETHER):
                found.add(frozenset(on).union(*(BRINGS.get(each, ()) for each in on)))
    return found


def carries(function, on, *, flash_wins=True, variant=""):
    """(lit, dark) of a circuit with these controls on."""
    steady = lambda is_on: (is_on, is_on)  # noqa: E731
    flashing = (True, False)
    side = function.rpartition("_")[2]
    if function.startswith("tail"):
        return steady("park" in on or f"park_{side}" in on)
    if function.startswith("turn_"):
        return flashing if side in on or "hazard" in on else steady(False)
    if function.startswith("stop_turn_"):
        if side in on or ("hazard" in on and (flash_wins or "brake" not in on)):
            return flashing
        return steady("brake" in on)
    if function == "drl":
        return steady(("engine" if variant.startswith("engine") else "key") in on and "park" not in on)
    return steady(
        {
            "stop": "brake" in on,
            "reverse": "reverse" in on,
            "low_beam": "low" in on or (variant == "stays" and "high" in on),
            "high_beam": "high" in on,
            "fog_front": "fog_front" in on,
            "fog_rear": "fog_rear" in on,
            "ignition": "key" in on,
            "battery": True,
            "own_switch": "own_switch" in on,
        }[function]
    )


def both(a, b):
    return a[0] and b[0], a[1] and b[1]


def either(a, b):
    return a[0] or b[0], a[1] or b[1]


def inverse(a):
    return not a[0], not a[1]


def over(front, back):
    return front if any(front) else back


def wish_text(tree):
    """A wish as a tree of tuples, as it is written."""
    if isinstance(tree, str):
        return tree
    how, *parts = tree
    texts = [wish_text(part) for part in parts]
    return {"not": "not ({0})", "over": "over({0}, {1})"}.get(how, f"({{0}}) {how} ({{1}})").format(*texts)


def wish_names(tree):
    return {tree} if isinstance(tree, str) else set().union(*(wish_names(part) for part in tree[1:]))


def wish_value(tree, carried):
    """(lit, dark) of a wish, where `carried` has what each circuit carries."""
    if isinstance(tree, str):
        return carried[tree]
    how, *parts = tree
    return {"and": both, "or": either, "not": inverse, "over": over}[how](*(wish_value(p, carried) for p in parts))


def gives(form, inputs):
    """(lit, dark) of a network, by its published name, on what its sources carry; None for one of another kind."""
    if form.id == "three_diodes":
        return either(either(*inputs[:2]), inputs[2])
    if "-" in form.id:
        inner = gives(form.inner, form.inner_of(inputs))
        return gives(form.outer, form.outer_of(inputs, inner))
    a, b = (*inputs, None)[:2]
    is_flash = lambda each: each[0] and not each[1]  # noqa: E731
    return {
        "direct": lambda: a,
        "relay": lambda: a,
        "to_ground": lambda: a,
        "direct_ground": lambda: a,
        "from_ground": lambda: a,
        "diode_or": lambda: either(a, b),
        "relay_or": lambda: either(a, b),
        "joined": lambda: either(a, b),
        "and": lambda: both(a, b),
        "and_not": lambda: both(inverse(a), b),
        "held_open": lambda: over(a, b),
        "self_switching": lambda: over(a, b),
        "converter": lambda: b if is_flash(b) else either(a, b),
        "pulse_module": lambda: a,
        "separate_turn": lambda: a if is_flash(a) else (False, False),
        "separate_stop": lambda: (all(a) or all(b),) * 2,
    }[form.id]()
