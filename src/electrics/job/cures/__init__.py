"""Fixes, one class each in one registry: when each applies, how it is sized, what it does to a design, its costs."""
