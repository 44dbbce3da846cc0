"""One word for one thing: what the glossary says is not said is found on no page, in no message and in no doc."""

from __future__ import annotations

import ast
import re
from pathlib import Path

import pytest

from electrics.reference.glossary import glossary
from page_words import words

ROOT = Path(__file__).parents[2]
SRC = ROOT / "src/hailstone"
UNSAID = re.compile(
    "|".join(rf"\b{re.escape(each)}\b" for term in glossary() for each in term.instead_of), re.IGNORECASE
)
IDENTIFIER = re.compile(r"`[^`]*`|\b[a-z]+_[a-z_]+\b|\]\([^)]*\)")
DOCS = ("README.md", "docs/formats/README.md", "docs/formats/job.md", "docs/formats/hookup-job.md")


def said_in(path):
    """Texts of a module that people may read: no docstrings, keys or names."""
    tree = ast.parse(path.read_text())
    docs = {
        id(node.body[0].value)
        for node in ast.walk(tree)
        if isinstance(node, ast.Module | ast.ClassDef | ast.FunctionDef)
        and node.body
        and isinstance(node.body[0], ast.Expr)
    } | {id(node.value) for node in ast.walk(tree) if isinstance(node, ast.Expr)}
    found = (node for node in ast.walk(tree) if isinstance(node, ast.Constant) and isinstance(node.value, str))
    return [node.value for node in found if id(node) not in docs and " " in node.value]


def unsaid(texts):
    return [(match[0], text[:90]) for text in texts for match in UNSAID.finditer(IDENTIFIER.sub("", text))]


MODULES = sorted(path for path in SRC.rglob("*.py") if not {"migrations", "demo"} & set(path.parts))


def test_no_message_says_what_the_glossary_has_another_word_for():
    assert unsaid(text for path in MODULES for text in said_in(path)) == []


@pytest.mark.parametrize("path", sorted(SRC.rglob("*.html")), ids=lambda path: path.stem)
def test_no_template_says_it(path):
    page = re.sub(r"\{%.*?%\}|\{\{.*?\}\}|\{#.*?#\}", " ", path.read_text(), flags=re.DOTALL)
    assert unsaid(words(page)) == []


@pytest.mark.parametrize("name", DOCS)
def test_no_doc_says_it(name):
    assert unsaid((ROOT / name).read_text().split("\n")) == []
