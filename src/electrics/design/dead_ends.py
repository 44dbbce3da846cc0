"""Terminals with nothing connected: unused module outputs, sealed relay contacts."""

from __future__ import annotations

__all__ = ["is_dead_end", "is_unused", "sealed", "unused"]

UNUSED, SEALED = "_unused", "_sealed"


def unused(terminal: str) -> str:
    """The node of an output that nothing needs: another part may take it."""
    return terminal + UNUSED


def sealed(terminal: str) -> str:
    """The node of a contact that is (or may be) live and goes nowhere."""
    return terminal + SEALED


def is_unused(node: str) -> bool:
    """Whether it is an output that another part may take."""
    return node.endswith(UNUSED)


def is_dead_end(node: str) -> bool:
    """Whether nothing is joined there: the terminal is capped or sealed."""
    return node.endswith((UNUSED, SEALED))
