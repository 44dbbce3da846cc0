"""What a job adds or changes, as one accessory with the leads of all its units."""

from __future__ import annotations

from electrics.design.accessories import OWN, Accessory, accessories, own_kind, together, units_as_one
from electrics.design.units_of_facts import units_of
from electrics.document.job import JobFacts, Wish
from electrics.reference.usual import system_scale

__all__ = ["accessory_of", "wished"]


def accessory_of(facts: JobFacts) -> Accessory:
    """What is added: the units of a job, or a kind of the table or one's own with whatever is added along with it."""
    if facts.units:
        return units_as_one(units_of(facts.units, facts.places, facts.vehicle.system_v))
    return wished(facts.wish, facts.vehicle.system_v)


def wished(wish: Wish, system_v: int) -> Accessory:
    """What a brief adds by name, as it is sold for a system [V]."""
    scale = 1 / system_scale(system_v)
    if wish.kind == OWN:
        first = own_kind(wish.own_leads, wish.count, wish.each_a)
    else:
        first = accessories()[wish.kind].fitted(wish.count, wish.each_a, scale)
    also = [accessories()[id] for id in wish.also if id != wish.kind]
    return together(first, [each.fitted(each.count, None, scale) for each in also])
