"""Belief about wires: which function each has, given the readings, and what to measure next.

`conditions` says what a wire is electrically, `instruments` what a meter or lamp then shows, `kinds`
what an access point usually holds, `joint` weighs all its wires together, `belief` puts these together,
`plan` looks for the most telling next step. docs/method.md explains the mathematics.
"""
