"""Builds the factory circuit of a vehicle from a description; parts are added to its named points."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

from electrics.circuit.elements import (
    Battery,
    BrakeController,
    Bus,
    ComputerOutput,
    Diode,
    Element,
    Flasher,
    Fuse,
    Ground,
    Joint,
    Lamp,
    Led,
    Relay,
    Resistor,
    Switch,
    Wire,
)
from electrics.circuit.network import Network
from electrics.document.vehicle import FlasherKind, Idle
from electrics.errors import FactError
from electrics.lighting.description import (
    BACKUP,
    BEAM,
    DAYTIME,
    GROUND_OHM,
    HIGH_STOP,
    LICENCE,
    MAGNETS,
    MAIN,
    MARKER,
    PILOT,
    PILOT_CONTACTS,
    PILOT_FEEDS,
    SMALL,
    TOW,
    CircuitSpot,
    FactoryCircuit,
    Lamps,
    LampSize,
    Socket,
    VehicleDescription,
)
from electrics.lighting.feeds import EXTRA_FEEDS, SIDES, Feed
from electrics.reference.bulbs import bulbs
from electrics.reference.habits import LEAK_OHM, MOST_SHARE, TEST_HZ, TEST_MS, WARNS_SHARE, WATCHES_ALL, habit
from electrics.reference.usual import led_volts, system_scale
from electrics.signals import DROPS, GROUND_SWITCHED, RELEASED
from electrics.vocabulary import Arrangement, BrakeWithHazard, Function

__all__ = ["CircuitSpot", "FactoryCircuit", "Lamps", "VehicleDescription", "factory_circuit"]

FLASHER = "flasher"
BLEED_OHM = 10_000.0
"""Across an output of a tow socket that nothing is plugged into [ohm] (estimate)."""
STOP_TURNS = ("stop_turn_left", "stop_turn_right")
DIMMED = tuple(function for function in Function if "_dimmed" in function)
"""Of rear lamps that brake and flash on one wire, and what also dims: behind a fuse that both sides share."""


def factory_circuit(vehicle: VehicleDescription) -> FactoryCircuit:
    """Build the circuit that the factory built.

    Parameters
    ----------
    vehicle : Vehicle

    Returns
    -------
    FactoryCircuit
    """
    return _Loom(vehicle).finish()


class _Loom:
    def __init__(self, vehicle: VehicleDescription) -> None:
        self.vehicle = vehicle
        self.scale = system_scale(vehicle.system_v)
        self.elements: list[Element] = []
        self.spots: dict[str, CircuitSpot] = {}
        self.sockets: dict[Function, list[Socket]] = {}
        self.stated = {function: (bulbs()[name], count) for function, name, count in vehicle.bulbs}
        self.add(
            Battery(
                name="battery",
                nodes={"+": "bat", "-": "gnd"},
                volts=vehicle.resting_v or 12.6 * self.scale,
                charging_v=vehicle.charging_v or 14.2 * self.scale,
            )
        )
        self.add(Switch(name="ignition switch", nodes={"from": "bat", "to": "ign"}, closed_with=("key",)))
        ohm = GROUND_OHM * min(self.scale, 1.0) ** 2  # of a 6 V vehicle thicker, for twice the amps at half the volts
        for place in ("front", "rear"):
            for side in SIDES:
                nodes = {"at": f"{place}_{side}_gnd", "to": "gnd"}
                self.add(Ground(name=f"{place} {side} ground", nodes=nodes, resistance_ohm=ohm))

    @property
    def watches_all(self) -> bool:
        """Whether its computer counts the bulbs of stop and tail lamps, too."""
        return self.vehicle.counts_bulbs and habit(self.vehicle.habits, WATCHES_ALL) >= 0.5

    def add(self, element: Element) -> None:
        self.elements.append(element)

    def fused(self, name: str, supply: str, rating_a: float, *carries: str) -> str:
        """A fuse as somebody read it off the circuits that it carries, the smallest of several; else as usual."""
        node = f"{name}_fused".replace(" ", "_")
        noted = [rating for function, rating in self.vehicle.fuses if function in carries]
        usual_a = rating_a * (2 if self.vehicle.system_v == 6 else 1)  # the same watts at half the voltage
        self.add(Fuse(name=f"{name} fuse", nodes={"from": supply, "to": node}, rating_a=min(noted, default=usual_a)))
        return node

    def switch(self, name: str, first: str, second: str, on: tuple[str, ...], off: tuple[str, ...] = ()) -> str:
        self.add(Switch(name=name, nodes={"from": first, "to": second}, closed_with=on, open_with=off))
        return second

    def lamp(
        self, name: str, feed: str, place: str, size: LampSize, function: Function, variant: str = "plain"
    ) -> None:
        """A lamp at the end of its own length of wire; its pigtail is a spot."""
        node = f"{name}_pin".replace(" ", "_")
        is_rear = place.startswith("rear")
        ground = f"{place if ' ' in place else f'{place} left'}_gnd".replace(" ", "_")
        self.add(Wire(name=f"{name} wire", nodes={"from": feed, "to": node}, length_m=4.5 if is_rear else 1.5))
        if function in self.stated:
            size = LampSize.of(self.stated[function][0], size.led_a)
        self.light(name, node, ground, size, self.lamps_at(place, function))
        self.sockets.setdefault(function, []).append(Socket(name, place, node, ground, size))
        self.spots[f"{place}: {function}"] = CircuitSpot(node, function, variant)

    def lamps_at(self, place: str, function: Function) -> Lamps:
        """What shines there: as somebody stated of the circuit, else as in the rest of that end."""
        if function in self.stated:
            return Lamps.LED if self.stated[function][0].is_led else Lamps.FILAMENT
        return self.vehicle.rear if place.startswith("rear") else self.vehicle.front

    def light(self, name: str, first: str, second: str, size: LampSize, lamps: Lamps = Lamps.FILAMENT) -> None:
        nodes, scale = {"from": first, "to": second}, self.scale
        if lamps is Lamps.LED and size.led_a:
            self.add(Led(name=name, nodes=nodes, amps_a=size.led_a / scale, **led_volts(scale)))
            return
        hot_k = size.hot_k or (2800.0 if size.amps_a > 1 else 2500.0)
        rated_v = (size.rated_v or (12.8 if size.amps_a > 1 else 14.0)) * scale
        self.add(Lamp(name=name, nodes=nodes, rated_v=rated_v, rated_a=size.amps_a / scale, hot_k=hot_k))

    def output(self, name: str, supply: str, out: str, **values: Any) -> None:
        idle, habits = self.vehicle.idle, self.vehicle.habits
        output = ComputerOutput(
            name=name,
            nodes={"supply": supply, "out": out},
            test_pulses=idle is Idle.PULSES,
            test_ms=habit(habits, TEST_MS),
            test_hz=habit(habits, TEST_HZ),
            leak_ohm=habit(habits, LEAK_OHM, self.scale) if idle is Idle.LEAK else 0.0,
            **values,
        )
        self.add(output)

    def finish(self) -> FactoryCircuit:
        vehicle = self.vehicle
        self.spots["fuse box: battery"] = CircuitSpot("bat", Function.BATTERY, "plain")
        self.spots["fuse box: ignition"] = CircuitSpot("ign", Function.IGNITION, "plain")
        self.spots["rear left: ground"] = CircuitSpot("rear_left_gnd", Function.GROUND, "plain")
        self.tails()
        self.stops()
        self.turns()
        if vehicle.one_wire:
            self.one_wire()
        self.plain()
        if vehicle.drl:
            self.daytime()
        self.odd_ends()
        if vehicle.has_trailer_socket:
            self.trailer()
        if vehicle.tow:
            self.tow_module()
        for function, variant in vehicle.extras:
            self.extra(function, variant)
        for function, (_, count) in self.stated.items():
            self.as_counted(function, count)
        self.watch()
        return FactoryCircuit(vehicle, Network(tuple(self.elements)), self.spots)

    def as_counted(self, function: Function, count: int) -> None:
        """As many lamps on a circuit as somebody counted: more sockets in the rear lamps, or fewer lamps."""
        built = sorted(self.sockets.get(function, ()), key=lambda socket: socket.rank)
        gone = {socket.name for socket in built[count:]}
        self.elements = [element for element in self.elements if element.name not in gone]
        kept = built[:count]
        for n in range(count - len(kept) if kept else 0):
            first = kept[n % len([socket for socket in kept[: len(built)] if socket.rank == kept[0].rank])]
            socket = replace(
                first, name=f"{first.name}, bulb {2 + sum(e.pin == first.pin for e in kept[len(built) :])}"
            )
            self.light(socket.name, socket.pin, socket.ground, socket.size, self.lamps_at(first.place, function))
            kept.append(socket)
        self.sockets[function] = kept

    def watch(self) -> None:
        """What flashers and computers take for a full set: the filament bulbs of a side, less a part of one."""
        missed, most = 1 - habit(self.vehicle.habits, WARNS_SHARE), habit(self.vehicle.habits, MOST_SHARE)
        full, misses = {}, {}
        watched = {f"{kind}_{side}": self.vehicle.counts_bulbs for kind in ("turn", "stop_turn") for side in SIDES}
        watched |= dict.fromkeys(("stop", "tail"), self.watches_all)
        for name, is_watched in watched.items():
            sizes = [socket.size.amps_a / self.scale for socket in self.sockets.get(Function(name), ())]
            full[name] = sum(sizes)
            misses[name] = max(sum(sizes) - missed * max(sizes, default=0.0), 0.0) if is_watched else 0.0
        outputs = {f"{name.replace('stop_', 'stop and ').replace('_', ' ')} output": name for name in watched}
        main_a = self.largest_a()
        side_a = max(sum(full[f"{kind}_{side}"] for kind in ("turn", "stop_turn")) for side in SIDES)
        for n, element in enumerate(self.elements):
            if element.name == FLASHER:
                self.elements[n] = element.expecting(side_a or main_a, max(side_a - missed * main_a, 0.0))
            elif element.name in outputs:
                lamp = outputs[element.name]
                most_a = most * full[lamp] if misses[lamp] else 0.0
                self.elements[n] = element.expecting(full[lamp], misses[lamp], most_a)

    def largest_a(self) -> float:
        """The main bulb of a side's flashing lamps [A]."""
        names = [Function(f"{kind}_{side}") for kind in ("turn", "stop_turn") for side in SIDES]
        sizes = [socket.size.amps_a / self.scale for name in names for socket in self.sockets.get(name, ())]
        return max(sizes, default=MAIN.amps_a / self.scale)

    def extra(self, function: Function, variant: str) -> None:
        """A circuit that none of the descriptions above brings along; by ground, through a relay that sinks."""
        if function is Function.DRL:
            self.extra_daytime(variant)
            return
        if function not in EXTRA_FEEDS:
            raise FactError("extras", f"A {function} circuit cannot be added to a vehicle's description.")
        feed = EXTRA_FEEDS[function]
        if variant == "pulsed":
            feed = Feed(dims=feed.full)
        elif variant == "stays":
            feed = Feed(full=("low", "high"))
        place = f"extra: {function}"
        again = f"_{variant}" if place in self.spots else ""
        name = f"extra {function}{again}".replace("_", " ")
        supply = self.fused(name, "bat", 15, function)
        node = f"extra_{function}{again}"
        by_ground = variant == GROUND_SWITCHED
        out = f"{node}_hidden" if by_ground else node
        self.fed(f"{name} output", supply, out, feed)
        if by_ground:
            nodes = {"86": out, "85": "gnd", "30": "gnd", "87": node}
            self.add(Relay(name=f"{name} sink", nodes=nodes).scaled(self.scale))
        self.light(f"{name} lamp", *((supply, node) if by_ground else (node, "gnd")), MAIN)
        self.spots[place + again] = CircuitSpot(node, function, variant)

    def fed(self, name: str, supply: str, out: str, feed: Feed) -> None:
        """An output that is on, pulses and flashes with what a feed says."""
        wins = self.vehicle.scenario.brake_with_hazard is BrakeWithHazard.BRAKE_WINS and "brake" in feed.full
        steady = ("hazard",) if wins else ()
        self.output(
            name,
            supply,
            out,
            full_with=feed.full,
            dims_with=feed.dims,
            flashes_with=tuple(control for control in feed.flashes if control not in steady),
            flashes_unless_full=tuple(control for control in feed.flashes if control in steady),
        )

    def tow_module(self) -> None:
        """The outputs of a tow socket's own module, which has its own fuse."""
        supply = self.fused("tow socket", "bat", 30)
        for function, variant in self.vehicle.tow:
            feed = EXTRA_FEEDS.get(function)
            if feed is None:
                continue
            node = f"tow_{function}"
            self.fed(
                f"tow socket {function} output", supply, node, Feed(dims=feed.full) if variant == "pulsed" else feed
            )
            self.add(Resistor(name=f"tow socket {function} bleed", nodes={"from": node, "to": "gnd"}, ohm=BLEED_OHM))
            self.spots[f"{TOW}: {function}"] = CircuitSpot(node, function, variant)

    def extra_daytime(self, variant: str) -> None:
        """One more daytime lamp, which burns in a way of its own."""
        name, node = f"extra daytime {variant}".replace("_", " "), f"extra_drl_{variant}"
        trigger, _, habit = variant.partition("_")
        side = habit.removeprefix(DROPS)
        live = self.switch(f"{name} supply", self.fused(name, "bat", 10, Function.DRL), f"{node}_live", (trigger,))
        brake = ("park_brake",) if habit == RELEASED else ()
        self.switch(f"{name} switch", live, node, (), ("park", *brake, *((side, "hazard") if side != habit else ())))
        if habit == "dims":
            self.output(f"{name} dimmer", live, node, dims_with=("park",), duty=0.25)
        self.light(f"{name} lamp", node, "gnd", DAYTIME)
        self.spots[f"extra: {Function.DRL}_{variant}"] = CircuitSpot(node, Function.DRL, variant)

    def tails(self) -> None:
        vehicle = self.vehicle
        if vehicle.one_wire:
            return
        supply = self.fused("park", "bat", 10, "tail", "tail_left", "tail_right")
        variant = "plain"
        if vehicle.pulsed_tail:
            self.output("tail output", supply, "tail", dims_with=("park",), duty=0.25)
            variant = "pulsed"
        elif vehicle.sides_apart:
            for side in SIDES:
                self.switch(f"park switch {side}", supply, f"tail_{side}", ("park", f"park_{side}"))
        elif self.watches_all:
            self.output("tail output", supply, "tail", full_with=("park",), law_v=14.0 * self.scale)
        else:
            self.switch("park switch", supply, "tail", ("park",))
        for side in SIDES:
            feed = f"tail_{side}" if vehicle.sides_apart else "tail"
            function = Function(feed)
            self.lamp(f"{side} tail lamp", feed, f"rear {side}", SMALL, function, variant)
            if vehicle.has_front:
                self.lamp(f"{side} position lamp", feed, f"front {side}", SMALL, function, variant)
        if vehicle.has_licence:
            feed = "tail_left" if vehicle.sides_apart else "tail"
            self.lamp("license lamp", feed, "rear", LICENCE, Function(feed), variant)
            if vehicle.in_pairs:
                self.light("second license lamp", "license_lamp_pin", "rear_left_gnd", LICENCE, vehicle.rear)

    def stops(self) -> None:
        vehicle = self.vehicle
        supply = self.fused("stop", "bat", 15, "stop", *STOP_TURNS)
        if vehicle.ground_switched_stop:
            self.light("rear stop lamp", supply, "stop_ground", MAIN, vehicle.rear)
            self.switch("brake switch", "stop_ground", "gnd", ("brake",))
            self.spots["rear: stop"] = CircuitSpot("stop_ground", Function.STOP, GROUND_SWITCHED)
            return
        if self.watches_all:
            self.output("stop output", supply, "stop", full_with=("brake",), law_v=12.8 * self.scale)
        else:
            self.switch("brake switch", supply, "stop", ("brake",))
        self.spots["turn switch: stop_switch"] = CircuitSpot("stop", Function.STOP_SWITCH, "plain")
        is_combined = vehicle.scenario.arrangement is Arrangement.COMBINED
        if not is_combined and not vehicle.one_wire:
            for side in SIDES:
                self.lamp(f"{side} stop lamp", "stop", f"rear {side}", MAIN, Function.STOP)
        if vehicle.has_high_stop:
            self.lamp("high stop lamp", "stop", "rear", HIGH_STOP, Function.STOP)

    def turns(self) -> None:
        vehicle = self.vehicle
        is_combined = vehicle.scenario.arrangement is Arrangement.COMBINED
        flash_wins = vehicle.scenario.brake_with_hazard is BrakeWithHazard.FLASH_WINS
        by_computer = vehicle.flasher is FlasherKind.COMPUTER
        supply = self.fused("turn", "bat", 15, "turn_left", "turn_right", *STOP_TURNS)
        if not by_computer:
            self.switch("turn supply", supply, "flasher_in", ("left", "right", "hazard"))
            nodes = {"49": "flasher_in", "49a": "flash"}
            if vehicle.pilot == "one":
                nodes["c"] = "pilot_c"
            self.add(Flasher(name=FLASHER, nodes=nodes, type=str(vehicle.flasher), rated_a=MAIN.amps_a))
        for side in SIDES:
            controls = (side, "hazard")
            turn = f"turn_{side}"
            if by_computer:
                self.output(f"turn {side} output", supply, turn, flashes_with=controls)
            else:
                self.switch(f"turn switch {side}", "flash", turn, controls)
            if vehicle.has_front:
                self.lamp(f"{side} front turn lamp", turn, f"front {side}", MAIN, Function(turn))
            if vehicle.has_side_markers:
                self.marker(side, turn)
            if vehicle.one_wire:
                continue
            if not is_combined:
                self.lamp(f"{side} rear turn lamp", turn, f"rear {side}", MAIN, Function(turn))
                continue
            both = f"stop_turn_{side}"
            if by_computer:
                self.combined_output(f"stop and turn {side} output", supply, both, side)
            else:
                if flash_wins:
                    self.switch(f"rear turn switch {side}", "flash", both, controls)
                    self.switch(f"stop through turn switch {side}", "stop", both, (), controls)
                else:  # the brake takes the rear lamps from the hazard switch, not from the turn switch
                    self.switch(f"rear turn switch {side}", "flash", both, (side,))
                    self.switch(f"rear hazard contact {side}", "flash", both, ("hazard",), ("brake", side))
                    self.switch(f"stop through turn switch {side}", "stop", both, ("brake",), (side,))
            self.lamp(f"{side} stop and turn lamp", both, f"rear {side}", MAIN, Function(both))
        self.pilots()
        self.spots["turn switch: hazard_feed"] = CircuitSpot(supply, Function.HAZARD_FEED, "plain")
        if not by_computer:
            self.spots["turn switch: flasher_out"] = CircuitSpot("flash", Function.FLASHER_OUT, "plain")
        for side, turn in PILOT_FEEDS.items():
            name = Function(f"pilot_{side}")
            self.spots[f"dash: {name}"] = CircuitSpot(turn, name, "plain")

    def combined_output(self, name: str, supply: str, out: str, side: str, **values: Any) -> None:
        flash_wins = self.vehicle.scenario.brake_with_hazard is BrakeWithHazard.FLASH_WINS
        flashes_with = (side, "hazard") if flash_wins else (side,)
        unless = () if flash_wins else ("hazard",)
        self.output(
            name, supply, out, full_with=("brake",), flashes_with=flashes_with, flashes_unless_full=unless, **values
        )

    def marker(self, side: str, turn: str) -> None:
        """A side marker between the park and the turn feed, with no ground of its own."""
        feed = f"tail_{side}" if self.vehicle.sides_apart else "tail"
        name = f"{side} side marker"
        self.light(name, feed, turn, MARKER, self.vehicle.front)
        self.spots[f"side {side}: {Function.MARKER_BETWEEN}"] = CircuitSpot(feed, Function.MARKER_BETWEEN, side, name)

    def pilots(self) -> None:
        if self.vehicle.pilot == "one":
            self.light("turn pilot", "turn_left", "turn_right", PILOT)
        elif self.vehicle.pilot == "two":
            fed, back = PILOT_CONTACTS
            for side, turn in PILOT_FEEDS.items():
                self.add(Diode(name=f"pilot diode {side}", nodes={"anode": turn, "cathode": fed}, part="1N4004"))
            self.light("turn pilot", fed, back, PILOT)
            self.spots["dash: pilot"] = CircuitSpot(fed, Function.PILOT, "plain")
            self.add(Joint(name="pilot ground", nodes={"from": back, "to": "gnd"}))

    def one_wire(self) -> None:
        """Stop and tail, or stop, turn and tail, on one wire a side, pulsed by a computer."""
        vehicle = self.vehicle
        supply = self.fused("body computer", "bat", 30, *DIMMED)
        is_combined = vehicle.scenario.arrangement is Arrangement.COMBINED
        for side in SIDES:
            function = Function(f"tail_stop_turn_dimmed_{side}") if is_combined else Function.TAIL_STOP_DIMMED
            out, name = f"one_wire_{side}", f"rear {side} output"
            if is_combined:
                self.combined_output(name, supply, out, side, dims_with=("park",))
            else:
                self.output(name, supply, out, full_with=("brake",), dims_with=("park",))
                turn = f"turn_{side}"
                self.lamp(f"{side} rear turn lamp", turn, f"rear {side}", MAIN, Function(turn))
            self.lamp(f"{side} rear lamp", out, f"rear {side}", MAIN, function)
            front = f"front_wire_{side}"
            flashes_with = (side, "hazard")
            self.output(f"front {side} output", supply, front, dims_with=("park",), flashes_with=flashes_with)
            function = Function(f"turn_park_dimmed_{side}")
            self.lamp(f"{side} front lamp", front, f"front {side}", MAIN, function)

    def plain(self) -> None:
        """What one switch feeds: reverse, beams, fog lamps."""
        vehicle = self.vehicle
        supply = self.fused("reverse", "ign", 10, "reverse")
        self.switch("reverse switch", supply, "reverse", ("reverse",))
        for side in SIDES if vehicle.in_pairs else ("",):
            name, place = f"{side} reverse lamp".strip(), f"rear {side or 'left'}"
            self.lamp(name, "reverse", place, BACKUP, Function.REVERSE)
        if not vehicle.has_front:
            return
        low = ("low", "high") if vehicle.low_stays else ("low",)
        rows = [("low beam", Function.LOW_BEAM, low, BEAM), ("high beam", Function.HIGH_BEAM, ("high",), BEAM)]
        if vehicle.has_fogs:
            rows += [
                ("front fog", Function.FOG_FRONT, ("fog_front",), BEAM),
                ("rear fog", Function.FOG_REAR, ("fog_rear",), MAIN),
            ]
        for name, function, controls, size in rows:
            supply = self.fused(name, "bat", 20, function)
            feed = self.switch(f"{name} switch", supply, str(function), controls)
            place = "rear left" if function is Function.FOG_REAR else "front left"
            variant = ("stays" if vehicle.low_stays else "leaves") if function is Function.LOW_BEAM else "plain"
            self.lamp(f"{name} lamp", feed, place, size, function, variant)

    def daytime(self) -> None:
        trigger, _, habit = self.vehicle.drl.partition("_")
        supply = self.fused("daytime", "bat", 10, "drl")
        live = self.switch("daytime supply", supply, "daytime_live", (trigger,))
        if habit == "drops":
            for side in SIDES:
                feed = self.switch(f"daytime {side}", live, f"drl_{side}", (), ("park", side, "hazard"))
                variant = f"{trigger}_{DROPS}{side}"
                self.lamp(f"{side} daytime lamp", feed, f"front {side}", DAYTIME, Function.DRL, variant)
            return
        brake = ("park_brake",) if habit == RELEASED else ()
        self.switch("daytime full", live, "drl", (), ("park", *brake))
        if habit == "dims":
            self.output("daytime dimmer", live, "drl", dims_with=("park",), duty=0.25)
        self.lamp("daytime lamp", "drl", "front left", DAYTIME, Function.DRL, self.vehicle.drl)

    def odd_ends(self) -> None:
        """A bus wire, a wire that ends blunt, a feed whose fuse is out."""
        self.add(Bus(name="bus", nodes={"line": "bus_high", "31": "gnd"}))
        self.spots["behind the panel: data"] = CircuitSpot("bus_high", Function.DATA, "fast")
        self.add(Wire(name="blunt wire", nodes={"from": "blunt", "to": "blunt_end"}, length_m=1.0))
        self.spots["behind the panel: spare"] = CircuitSpot("blunt", Function.SPARE, "plain")
        self.light("dead lamp", "dead", "gnd", MAIN)
        self.spots["behind the panel: dead_feed"] = CircuitSpot("dead", Function.DEAD_FEED, "main")

    def trailer(self) -> None:
        """The socket's feeds: what the rear lamps have, and an output for electric trailer brakes."""
        supply = self.fused("trailer", "bat", 30)
        self.add(BrakeController(name="brake controller", nodes={"supply": supply, "out": "trailer_brakes"}))
        self.light("trailer brakes", "trailer_brakes", "gnd", MAGNETS)
        at = "trailer socket: brake_controller"
        self.spots[at] = CircuitSpot("trailer_brakes", Function.BRAKE_CONTROLLER, "plain")
