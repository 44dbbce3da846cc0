"""Filters and drawings that templates use everywhere."""

from __future__ import annotations

from collections.abc import Sequence

from django.forms import BoundField, Form
from django.template import Library
from django.utils.html import format_html
from django.utils.safestring import SafeString

from electrics.design import accessories
from electrics.design.inputs import Assumed
from electrics.identify.plan import Step
from electrics.vocabulary import Function
from hailstone.hookup.models import CIRCUIT_FIELDS
from hailstone.layers.progress import Layer
from hailstone.shop import svg
from hailstone.wording import advice, words

register = Library()


@register.filter
def percent(probability: float) -> str:
    return words.percent(probability)


@register.filter
def mid_sentence(text: str) -> str:
    return accessories.mid_sentence(text)


@register.filter
def amps(value: float) -> str:
    return words.amps_text(value)


@register.filter
def volts(value: float) -> str:
    return f"{value:.2f} V"


@register.filter
def plain(value: float) -> str:
    """A number without trailing zeros."""
    return f"{value:g}"


@register.filter
def less(value: float, by: float) -> str:
    """A coordinate moved to the left or up."""
    return f"{value - by:g}"


@register.inclusion_tag("_rings.svg")
def rings(layers: Sequence[Layer], size: int = 96) -> dict[str, object]:
    return {"rings": svg.rings(layers), "size": size, "title": svg.rings_title(layers)}


@register.inclusion_tag("_wire.svg")
def wire(colour: str) -> dict[str, object]:
    return {"wire": svg.wire(colour)}


@register.simple_tag
def bar(share: float, kind: str = "") -> SafeString:
    """A bar of a share between 0 and 1; `kind` is a class. Drawn hundreds of times a page, hence no template."""
    return format_html(
        '<svg class="bar {}" viewBox="0 0 100 6" preserveAspectRatio="none" aria-hidden="true">'
        '<rect class="bar-track" width="100" height="6" rx="3"/>'
        '<rect class="bar-fill" width="{}" height="6" rx="3"/></svg>',
        kind,
        round(100 * max(0.0, min(1.0, share)), 1),
    )


@register.filter
def do_sentence(step: Step, kind: str = "") -> str:
    return advice.do_sentence(step, kind)


@register.filter
def field(form: Form, name: str) -> BoundField:
    """A field of a form by its name."""
    return form[name]


@register.filter
def circuit_fields(form: Form, suffix: str) -> dict[str, BoundField]:
    """The fields of one factory circuit, by their plain names."""
    return {name: form[name + suffix] for name in CIRCUIT_FIELDS}


@register.filter
def circuit_name(function: str) -> str:
    """`Turn left`."""
    return words.function_name(Function(function))


@register.filter
def assumed(values: Assumed, id: str) -> str:
    """An input as sizes were worked out from it."""
    return f"{values[id]:g}"
