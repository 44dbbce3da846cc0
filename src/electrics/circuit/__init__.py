"""A real direct-current network, solved in every state and flash phase.

Sign convention, the only one: the voltage of a branch is that of its first node less that of its second;
its current is positive when it flows through the part from the first node to the second. A battery lists
positive first, so while it delivers its own current is negative. All node voltages are against the
reference node, battery negative. Units are coherent SI: volt, ampere, ohm, watt, kelvin, second.
"""
