"""Sample data of a made-up workshop: what `hailstone demo` loads."""
