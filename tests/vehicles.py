"""Vehicles that several test modules and the bench speak of: every function and variant is built in one of them."""

from __future__ import annotations

from electrics.document.vehicle import FlasherKind
from electrics.lighting.vehicle import Lamps, Vehicle
from electrics.signals import Scenario
from electrics.vocabulary import Arrangement, BrakeWithHazard

SEPARATE = Scenario(Arrangement.SEPARATE)
FLASH, BRAKE = (Scenario(Arrangement.COMBINED, who) for who in BrakeWithHazard)
VEHICLES = {
    "separate": Vehicle(scenario=SEPARATE, has_fogs=True, has_trailer_socket=True, drl="key"),
    "separate, LED": Vehicle(
        scenario=SEPARATE, rear=Lamps.LED, front=Lamps.LED, flasher=FlasherKind.FIXED, low_stays=True
    ),
    "separate, sides apart": Vehicle(scenario=SEPARATE, sides_apart=True, drl="key_dims", has_side_markers=True),
    "separate by computer": Vehicle(scenario=SEPARATE, flasher=FlasherKind.COMPUTER),
    "separate, pulsed tail": Vehicle(scenario=SEPARATE, pulsed_tail=True, drl="engine", pilot="two"),
    "separate, one wire": Vehicle(scenario=SEPARATE, one_wire=True, drl="engine_dims"),
    "separate, ground-switched": Vehicle(scenario=SEPARATE, ground_switched_stop=True, has_front=False, pilot="one"),
    "separate, daytime by park brake": Vehicle(scenario=SEPARATE, drl="key_released"),
    "combined, daytime by park brake": Vehicle(scenario=FLASH, drl="engine_released"),
    "separate, daytime drops": Vehicle(scenario=SEPARATE, drl="key_drops"),
    "combined, flash wins": Vehicle(scenario=FLASH, drl="engine_drops"),
    "combined, brake wins": Vehicle(scenario=BRAKE),
    "combined, LED": Vehicle(scenario=FLASH, rear=Lamps.LED, front=Lamps.LED, flasher=FlasherKind.FIXED),
    "combined by computer": Vehicle(scenario=BRAKE, flasher=FlasherKind.COMPUTER, counts_bulbs=True),
    "combined, one wire, flash wins": Vehicle(scenario=FLASH, one_wire=True),
    "combined, one wire, brake wins": Vehicle(scenario=BRAKE, one_wire=True),
    "6 V, bimetal": Vehicle(system_v=6, scenario=SEPARATE, flasher=FlasherKind.BIMETAL),
    "24 V": Vehicle(system_v=24, scenario=SEPARATE, has_trailer_socket=True),
}
