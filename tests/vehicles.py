"""Vehicles that several test modules and the bench speak of: every function and variant is built in one of them."""

from __future__ import annotations

from electrics.document.vehicle import FlasherKind
from electrics.lighting.vehicle import Lamps, VehicleDescription
from electrics.signals import Scenario
from electrics.vocabulary import Arrangement, BrakeWithHazard

SEPARATE = Scenario(Arrangement.SEPARATE)
FLASH, BRAKE = (Scenario(Arrangement.COMBINED, who) for who in BrakeWithHazard)
VEHICLES = {
    "separate": VehicleDescription(scenario=SEPARATE, has_fogs=True, has_trailer_socket=True, drl="key"),
    "separate, LED": VehicleDescription(
        scenario=SEPARATE, rear=Lamps.LED, front=Lamps.LED, flasher=FlasherKind.FIXED, low_stays=True
    ),
    "separate, sides apart": VehicleDescription(
        scenario=SEPARATE, sides_apart=True, drl="key_dims", has_side_markers=True
    ),
    "separate by computer": VehicleDescription(scenario=SEPARATE, flasher=FlasherKind.COMPUTER),
    "separate, pulsed tail": VehicleDescription(scenario=SEPARATE, pulsed_tail=True, drl="engine", pilot="two"),
    "separate, one wire": VehicleDescription(scenario=SEPARATE, one_wire=True, drl="engine_dims"),
    "separate, ground-switched": VehicleDescription(
        scenario=SEPARATE, ground_switched_stop=True, has_front=False, pilot="one"
    ),
    "separate, daytime by park brake": VehicleDescription(scenario=SEPARATE, drl="key_released"),
    "combined, daytime by park brake": VehicleDescription(scenario=FLASH, drl="engine_released"),
    "separate, daytime drops": VehicleDescription(scenario=SEPARATE, drl="key_drops"),
    "combined, flash wins": VehicleDescription(scenario=FLASH, drl="engine_drops"),
    "combined, brake wins": VehicleDescription(scenario=BRAKE),
    "combined, LED": VehicleDescription(scenario=FLASH, rear=Lamps.LED, front=Lamps.LED, flasher=FlasherKind.FIXED),
    "combined by computer": VehicleDescription(scenario=BRAKE, flasher=FlasherKind.COMPUTER, counts_bulbs=True),
    "combined, one wire, flash wins": VehicleDescription(scenario=FLASH, one_wire=True),
    "combined, one wire, brake wins": VehicleDescription(scenario=BRAKE, one_wire=True),
    "6 V, bimetal": VehicleDescription(system_v=6, scenario=SEPARATE, flasher=FlasherKind.BIMETAL),
    "24 V": VehicleDescription(system_v=24, scenario=SEPARATE, has_trailer_socket=True),
}
