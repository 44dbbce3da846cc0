"""What a page says to people, and what in it nobody says: identifiers of ours, and figures that are no words."""

from __future__ import annotations

import re
from html.parser import HTMLParser

SAID = ("title", "aria-label", "placeholder", "alt", "aria-description", "data-confirm", "hx-confirm")
SILENT = ("script", "style", "template")
ODD = (
    r"\b\w*[a-zA-Z0-9]_[a-zA-Z0-9]\w*",  # turn_left
    r"\b[a-z]+\+[a-z]+(?:\+[a-z]+)*\b",  # brake+left
    r"\b(?:None|True|False|nan|inf)\b",
    r"\b(?:Led|led|12n|13n|Tsr|Drl|drl|12s|7n)\b",
    r"(?<![\d.,:])\b1 (?:more )?(?:lines|steps|states|readings|wires|pins|parts|leads|days|ways|results|bulbs|lamps)\b",
    r"\bvaries\b|\b0 times\b|\beach_|[{}]|[@][a-z]+|<[a-z]+\.",
    r"\b(?:Tap|Level|Lack|Outcome|Function|Polarity|Control)\.[A-Z]+",
    r"\b\w+: unknown\b",
)
"""Patterns of what is no word."""


class _Words(HTMLParser):
    def __init__(self) -> None:
        super().__init__(convert_charrefs=True)
        self.found: list[str] = []
        self.silent = 0

    def handle_starttag(self, tag, attrs):
        self.silent += tag in SILENT
        self.found += [value for name, value in attrs if name in SAID and value]
        self.found += [
            value
            for name, value in attrs
            if tag == "input" and name == "value" and dict(attrs).get("type") in ("submit", "button") and value
        ]

    def handle_endtag(self, tag):
        self.silent -= tag in SILENT

    def handle_data(self, data):
        if not self.silent and data.strip():
            self.found.append(" ".join(data.split()))


def words(html: str) -> list[str]:
    """Every text, label and title of a page."""
    reader = _Words()
    reader.feed(html)
    return reader.found


def odd_words(html: str, allowed: str = "$^") -> list[str]:
    """What a page says that is no word, with what stands around it."""
    found = []
    for text in words(html):
        for pattern in ODD:
            found += [f"{m[0]}: {text[:140]}" for m in re.finditer(pattern, text) if not re.search(allowed, m[0])]
    return found
