"""Measurements of Hailstone's figures; `make bench` prints them."""
