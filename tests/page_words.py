"""What a page says to people, and what in it nobody says: identifiers of ours, and figures that are no words."""

from __future__ import annotations

import re
from functools import cache
from html import unescape

SAID = ("title", "aria-label", "placeholder", "alt", "aria-description", "data-confirm", "hx-confirm")
SILENT = ("script", "style", "template")
ODD = (
    r"\b\w*[a-zA-Z0-9]_[a-zA-Z0-9]\w*",  # turn_left
    r"\b[a-z]+\+[a-z]+(?:\+[a-z]+)*\b",  # brake+left
    r"\b(?:None(?! of )|True|False|nan|inf)\b",
    r"\b(?:Led|led|12n|13n|Tsr|Drl|drl|12s|7n)\b",
    r"(?<![\d.,:])\b1 (?:more )?(?:lines|steps|states|readings|wires|pins|parts|leads|days|ways|results|bulbs|lamps)\b",
    r"\bvaries\b|\b0 times\b|\beach_|[{}]|[@][a-z]+|<[a-z]+\.",
    r"\b(?:Tap|Level|Lack|Outcome|Function|Polarity|Control)\.[A-Z]+",
    r"\b\w+: unknown\b",
)
"""Patterns of what is no word."""


SILENT_PART = re.compile(rf"<({'|'.join(SILENT)})\b.*?</\1>", re.DOTALL)
TAG = re.compile(r"<[a-zA-Z/!](?:[^<>\"']|\"[^\"]*\"|'[^']*')*>")
ATTRIBUTE = re.compile(r"""([\w-]+)\s*=\s*(?:"([^"]*)"|'([^']*)')""")


def flat(html: str) -> str:
    """A page without the line breaks of its templates: nothing stands between a tag and what follows it."""
    return re.sub(r"> ", ">", re.sub(r"\s+", " ", html))


def words(html: str) -> list[str]:
    """Every text, label and title of a page."""
    page = SILENT_PART.sub("", html)
    found = TAG.split(page)
    for tag in TAG.findall(page):
        says = {name: in_two or in_one for name, in_two, in_one in ATTRIBUTE.findall(tag)}
        found += [says[name] for name in SAID if name in says]
        if says.get("type") in ("submit", "button") and tag.startswith("<input"):
            found.append(says.get("value", ""))
    return [" ".join(text.split()) for text in map(unescape, found) if text.strip()]


ANY_ODD = re.compile("|".join(ODD))


@cache
def _odd_in(text: str, allowed: str) -> tuple[str, ...]:
    if not ANY_ODD.search(text):  # as nearly all that is said
        return ()
    found = (m for pattern in ODD for m in re.finditer(pattern, text) if not re.search(allowed, m[0]))
    return tuple(f"{m[0]}: {text[:140]}" for m in found)


def odd_words(html: str, allowed: str = "$^") -> list[str]:
    """What a page says that is no word, with what stands around it."""
    return [odd for text in words(html) for odd in _odd_in(text, allowed)]
