"""The repository keeps its own promises: pins, licences, pictures, words that must not stand in it."""

from __future__ import annotations

import ast
import csv
import json
import re
import subprocess
from fnmatch import fnmatch
from pathlib import Path

import jsonschema
import pytest

from electrics.circuit.elements import KINDS

ROOT = Path(__file__).parents[1]
VENDOR = ROOT / "src/hailstone/static/vendor"


def tracked(*patterns):
    listed = subprocess.run(["git", "ls-files", *patterns], cwd=ROOT, capture_output=True, text=True, check=True)
    return [ROOT / name for name in listed.stdout.splitlines()]


def test_nobody_asks_an_element_for_its_class_but_the_elements_themselves():
    """They answer what they glow, beat, carry and become."""
    kinds = {cls.__name__ for cls in KINDS.values()} | {"Element"}
    for path in tracked("src/*.py", "src/**/*.py"):
        if "circuit/elements" in str(path):
            continue
        for call in ast.walk(ast.parse(path.read_text())):
            if isinstance(call, ast.Call) and getattr(call.func, "id", "") in ("isinstance", "type", "issubclass"):
                named = {node.id for arg in call.args for node in ast.walk(arg) if isinstance(node, ast.Name)}
                assert not named & kinds, f"{path.name}:{call.lineno} asks for {sorted(named & kinds)}"


@pytest.mark.parametrize("name", ["base", "dev"])
def test_every_requirement_is_pinned_and_names_no_registry(name):
    lines = (ROOT / f"requirements/{name}.txt").read_text().splitlines()
    for line in lines:
        assert re.fullmatch(r"(#.*|-r base\.txt|[A-Za-z0-9._-]+==[0-9.]+|)", line), line


def test_every_vendored_file_is_listed_with_version_and_licence():
    rows = list(csv.DictReader((VENDOR / "packages.csv").read_text().splitlines()))
    listed = {row["file"] for row in rows}
    there = {path.name for path in VENDOR.iterdir()} - {"packages.csv"}
    assert {name for name in there if not name.startswith("LICENSE")} == listed
    for row in rows:
        assert row["version"]
        assert row["licence"] in {"MIT", "0BSD", "OFL-1.1"}
        assert f"LICENSE-{row['package'].split('/')[-1]}.txt" in there


def test_nothing_points_out_of_the_machine():
    """Styles, scripts and fonts ship with it; only names of XML languages look like addresses."""
    for path in tracked(
        "src/hailstone/**/*.html", "src/hailstone/static/css/*", "src/hailstone/static/js/*", "*.svg"
    ):
        text = path.read_text().replace("http://www.w3.org/2000/svg", "")
        assert not re.search(r"https?://|//[a-z]+\.[a-z]", text), path


def test_every_picture_is_linked_and_every_link_leads_somewhere():
    pages = [ROOT / "README.md", *tracked("docs/*.md", "docs/formats/*.md")]
    linked = set()
    for page in pages:
        for target in re.findall(r"\]\(([^)#]+)\)", page.read_text()):
            assert (page.parent / target).exists(), f"{page.name}: {target}"
            linked.add((page.parent / target).resolve())
    pictures = set(tracked("docs/screenshots/*.png"))
    assert pictures <= linked
    assert len(pictures) < 20


def test_no_test_lies_in_a_folder_that_is_left_out(pytestconfig):
    """By default a folder named `build` is."""
    left_out = pytestconfig.getini("norecursedirs")
    for path in tracked("tests/*test_*.py", "src/electrics/*.py"):
        folders = path.relative_to(ROOT).parent.parts
        assert not [each for each in folders if any(fnmatch(each, pattern) for pattern in left_out)], path


def test_modules_stay_small():
    for path in tracked("src/*.py", "bench/*.py", "tools/*.py"):
        if "migrations" not in path.parts:
            assert len(path.read_text().splitlines()) < 500, path


@pytest.mark.parametrize("path", list((ROOT / "docs/formats").glob("*.schema.json")), ids=lambda path: path.name)
def test_schemas_are_schemas(path):
    jsonschema.Draft202012Validator.check_schema(json.loads(path.read_text()))


def test_the_command_line_documents_every_subcommand():
    text = (ROOT / "docs/formats/README.md").read_text()
    commands = re.findall(r'add_parser\(\s*"(\w+)"', (ROOT / "src/hailstone/cli/main.py").read_text())
    assert commands
    assert all(f"## `hailstone {command}" in text for command in commands)


@pytest.mark.parametrize("page", ["CONTRIBUTING.md", "docs/architecture.md", "README.md"])
def test_every_file_that_a_page_names_is_there(page):
    """A path in back quotes is the end of a tracked file's, or a folder of tracked files."""
    files = [str(path.relative_to(ROOT)) for path in tracked("*")]
    named = re.findall(r"`([\w./-]+)`", (ROOT / page).read_text())
    paths = [
        name for name in named if re.search(r"\.(py|csv|toml|md|html|js|css|json)$", name) or name.startswith("src/")
    ]
    paths += [name for name in named if name.startswith(("electrics/", "hailstone/", "docs/", "tests/"))]
    assert paths
    missing = [name for name in paths if not any(f"/{name}" in f"/{each}" for each in files)]
    assert missing == []
