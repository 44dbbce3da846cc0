"""The core of Hailstone: vehicle lamp circuits as computation, with no interface code.

Sign convention, everywhere: voltages are read at a pin against battery negative, currents are positive
from the supply towards ground. SI units throughout; a name that carries a number carries its unit.
"""
