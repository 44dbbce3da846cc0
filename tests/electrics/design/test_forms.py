"""Every form is built of parts whose terminals all go somewhere, or nowhere on purpose."""

from __future__ import annotations

import pytest

from electrics.design.dead_ends import is_dead_end
from electrics.design.forms import FORMS


@pytest.mark.parametrize("form", FORMS, ids=lambda form: form.id)
def test_a_form_joins_its_sources_to_the_lamp_and_leaves_no_terminal_hanging(form):
    sources = [f"source {n}" for n in range(len(form.takes))]
    parts = form.build("lead", sources, "lamp")
    nodes = [node for part in parts for node in part.nodes.values()]
    hanging = {node for node in nodes if nodes.count(node) == 1} - {*sources, "lamp", "bat", "gnd"}
    assert all(map(is_dead_end, hanging)), hanging
    assert "lamp" in nodes or not parts
    assert len({part.name for part in parts}) == len(parts)
