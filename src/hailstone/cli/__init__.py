"""The console script `hailstone`: a module for each command, without Django but where pages are served."""

from hailstone.cli.main import main

__all__ = ["main"]
