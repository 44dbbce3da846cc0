"""The parts of a circuit. A new kind is one class here: its terminals, its values, and how it is built."""

from electrics.circuit.elements.base import KINDS, Element, Glow
from electrics.circuit.elements.flashers import Flasher
from electrics.circuit.elements.housed import Housed
from electrics.circuit.elements.lamps import DualLamp, DualLed, Lamp, Led
from electrics.circuit.elements.modules import BrakeController, Bus, ComputerOutput, Converter, Separator, TimedRelay
from electrics.circuit.elements.parts import Diode, LedProbe, Meter, ProbeLamp, Relay, Resistor
from electrics.circuit.elements.smoothing import Capacitor, Decoder, Smoother
from electrics.circuit.elements.supply import Battery, Fuse, Ground, Joint, Switch, Wire

__all__ = [
    "KINDS",
    "Battery",
    "BrakeController",
    "Bus",
    "Capacitor",
    "ComputerOutput",
    "Converter",
    "Decoder",
    "Diode",
    "DualLamp",
    "DualLed",
    "Element",
    "Flasher",
    "Fuse",
    "Glow",
    "Ground",
    "Housed",
    "Joint",
    "Lamp",
    "Led",
    "LedProbe",
    "Meter",
    "ProbeLamp",
    "Relay",
    "Resistor",
    "Separator",
    "Smoother",
    "Switch",
    "TimedRelay",
    "Wire",
]
