"""From the circuits there are to the behaviour wanted: tap, truth table, load, wire, fuse, joint."""
