"""Behavior wanted -> every hook-up that could give it: the search, its trial on the vehicle, and the ranking."""
