"""Wires of a design made thicker where the solved circuit shows that a lamp's feed loses too much on the whole road.

What the vehicle loses before the tap, and a fuse or a contact on the way, is known only once the circuit is solved.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace

from electrics.design.design import Design
from electrics.design.whole_roads import feed_loss_v
from electrics.job.hookup_plan import HookUpPlan
from electrics.job.layout import JobLayout
from electrics.reference.conductor import ALPHA_20_PER_K, HOT_C

__all__ = ["fed_within_limits"]

MOST_ROUNDS = 4
"""Layouts that are tried; one is nearly always enough [-]."""
HOT_SHARE = 1.0 + ALPHA_20_PER_K * (HOT_C - 20.0)
"""Wires are sized hot and solved at 20 C: what must be lost less there is more here [-]."""
SPARE_V = 0.01


def fed_within_limits(plan: HookUpPlan, laid: JobLayout, shown: Callable[[Design], Design]) -> HookUpPlan:
    """A plan whose wires lose no more than they may, as far as wire that is sold can mend it.

    Parameters
    ----------
    plan : HookUpPlan
    laid : JobLayout
        What its design was laid out by.
    shown : callable
        A design as the plan shows it: with the colours of the lamps' own leads.
    """
    whole = plan
    hopeless: frozenset[str] = frozenset()
    while True:
        most_v: dict[str, float] = {}
        for _ in range(MOST_ROUNDS):
            over_v = {lead: volts for lead, volts in _over_v(plan).items() if lead not in hopeless}
            if not over_v:
                return plan
            most_v |= {lead: volts - SPARE_V for lead, volts in over_v.items()}
            thicker = replace(laid, most_v=dict(most_v))
            design = thicker.design and shown(thicker.design)
            if design is None or design == plan.design:
                break
            plan = replace(plan, design=design, drawn=design)  # with a way for every lead, all is drawn
        left = _over_v(plan).keys() - hopeless
        if not left:
            return plan
        # thick wire that does not mend it is only harder to joint
        plan, hopeless = whole, hopeless | left


def _over_v(plan: HookUpPlan) -> dict[str, float]:
    """The leads whose feed loses too much, each with what its own wires may still lose then, hot [V]."""
    design = plan.design
    if design is None or plan.together is None:
        return {}
    lights = {light.element.name: light for light in design.lights}
    return {
        lights[upset.subject].lead: feed_loss_v(lights[upset.subject], design)
        - HOT_SHARE * (upset.value - upset.limit)
        for upset in plan.upsets
        if upset.rule == "feed_drop" and upset.subject in lights
    }
