"""The lamps of a vehicle as a circuit: from a description to a network with named points, and what those carry."""
