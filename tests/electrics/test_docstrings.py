"""Public functions of the core say what goes in: names as in the signature, a unit on every number."""

from __future__ import annotations

import importlib
import inspect
import pkgutil
import re

import pytest

import electrics

MODULES = [name for _, name, is_package in pkgutil.walk_packages(electrics.__path__, "electrics.") if not is_package]


def _documented():
    for name in MODULES:
        module = importlib.import_module(name)
        for public in getattr(module, "__all__", ()):
            thing = getattr(module, public)
            if inspect.isfunction(thing) and "Parameters\n" in (thing.__doc__ or ""):
                yield pytest.param(thing, id=f"{name}.{public}")


@pytest.mark.parametrize("name", MODULES)
def test_every_public_thing_has_a_docstring(name):
    module = importlib.import_module(name)
    assert module.__doc__
    for public in getattr(module, "__all__", ()):
        thing = getattr(module, public)
        if inspect.isfunction(thing) or inspect.isclass(thing):
            assert thing.__doc__, f"{name}.{public}"


@pytest.mark.parametrize("function", list(_documented()))
def test_parameters_are_those_of_the_signature(function):
    text = inspect.getdoc(function).partition("Parameters\n")[2].partition("Returns\n")[0]
    named = [name for line in re.findall(r"^(\w[\w, ]*) : ", text, re.M) for name in line.split(", ")]
    assert named == list(inspect.signature(function).parameters)


@pytest.mark.parametrize("function", list(_documented()))
def test_numbers_have_units(function):
    text = inspect.getdoc(function).partition("Parameters\n")[2].partition("Returns\n")[0]
    for name, body in re.findall(r"^(\w+) : (?:int|float)\b.*\n((?:    .*\n)+)", text, re.M):
        assert re.search(r"\[.+\]", body), f"{function.__name__}: {name} has no unit"
