"""From units and hook-ups to one design: every part, wire and joint, its sizes, and the circuit built from it."""
