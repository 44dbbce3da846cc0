"""Prints the figures that the README quotes: `make bench`. Nothing here fails on a slow machine.

`python -m bench --plots` draws docs/plots instead; `make bench PART=circuit` prints one part.
"""

from __future__ import annotations

import random
import statistics
import sys
import time
from collections.abc import Sequence
from concurrent.futures import ProcessPoolExecutor
from functools import partial, reduce

from bench.best_plan import against_the_best, single_wire
from bench.best_wish import against_every_plan
from bench.circuit import growth, largest, ngspice_ms, peak_mb, state_table_ms, timeline_ms
from bench.correct import first_set_ms, largest_ms, swaps
from bench.hookup import large_vehicle, largest_job, plan_ms
from bench.identify import (
    ALL_KINDS,
    CONFIDENCE,
    GRIDS,
    MANY_GRIDS,
    MANY_WALKS,
    MISSING,
    SEED,
    WALKS,
    Advised,
    Score,
    by_advice,
    full_grids,
    lower_bound,
    milliseconds_for,
    upper_bound,
)
from bench.pages import FEW_JOBS, MANY_JOBS, measure_pages
from bench.taps import PLAYERS, Jobs, Tally, chunk
from bench.vehicles import LAMPS, PLUGS, SWAPPED
from electrics.identify.families import Slip
from electrics.vocabulary import Arrangement, Function

QUERY_LIMIT = 12
SWAPPED_VEHICLES = 300


def main() -> None:
    if "--plots" in sys.argv:
        from bench.plots import draw_all

        draw_all()
        return
    if "--long" in sys.argv:
        from bench.plots import taps

        taps(_taps(MANY_TAPS))
        _against_every_plan(EVERY_PLAN + EVERY_PLAN_OF_THREE)
        return
    parts = {
        "identify": _identify,
        "circuit": _circuit,
        "hookup": _hookup,
        "correct": partial(_correct, len(sys.argv) > 1),
        "pages": _pages,
    }
    wanted = sys.argv[1:] or list(parts)
    if unknown := set(wanted) - set(parts):
        sys.exit(f"No part of the bench is called {', '.join(sorted(unknown))}. Expected {', '.join(parts)}.")
    for n, name in enumerate(wanted, start=1):
        started = time.monotonic()
        print(f"[{n} of {len(wanted)}] {name} ...", flush=True)
        parts[name]()
        print(f"[{n} of {len(wanted)}] {name} took {time.monotonic() - started:.0f} s", flush=True)


def _identify() -> None:
    print("Identify, generated access points, readings from lamp physics and habit")
    lamps, every = (LAMPS, "rear and front lamps"), (ALL_KINDS, f"all {len(ALL_KINDS)} kinds")
    wrong_in = ((0.0, MANY_GRIDS), (0.02, GRIDS), (MISTAKES, MANY_GRIDS), (0.10, GRIDS))
    grids = {
        f"{name}, {mistakes:.0%} of readings wrong": partial(full_grids, mistakes, kinds, grids=count)
        for kinds, name in (lamps, every)
        for mistakes, count in wrong_in
    } | {
        f"all kinds, 2 % wrong, {MISSING:.0%} of columns missing": partial(
            full_grids, 0.02, ALL_KINDS, missing=MISSING
        ),
        "all kinds, 2 % wrong, a chart wrong in 4 of 10": partial(full_grids, 0.02, ALL_KINDS, wrong_chart=True),
        "plugs, two contacts swapped, 5 % wrong": partial(full_grids, 0.05, PLUGS, swapped=1.0),
    }
    slips = {f"lamps, 2 % wrong, {name}": partial(full_grids, 0.02, slip=slip) for slip, name in SLIPS.items()}
    rows = ((lamps, SWAPPED), (every, SWAPPED), ((PLUGS, "plugs, contacts swapped"), 1.0))
    walks = {
        f"{name}, {mistakes:.0%} wrong, {count}": partial(by_advice, mistakes, kinds, swapped=swapped, walks=count)
        for ((kinds, name), swapped), many in zip(rows, MANY_WALKS, strict=True)
        for mistakes, count in ((0.0, WALKS), (MISTAKES, many))
    }
    with ProcessPoolExecutor() as pool:  # what is right hangs on no clock: all cores at once
        scores = {name: pool.submit(work) for name, work in (grids | slips).items()}
        ends = {name: pool.submit(work) for name, work in reversed(walks.items())}
        print(f"  {'full grids':<44} wires right          settled, of these wrong   90 to 95 % sure, right")
        for name in grids:
            _row(name, scores[name].result())
        print(f"  {'one column spoilt':<44} wires right          settled, of these wrong   something odd named")
        for name in slips:
            _row(name, scores[name].result(), is_spoilt=True)
        print(f"  {'following the advice':<41}of the grid    right   settled at its end   each at first")
        for name in walks:
            _advice_row(name, ends[name].result())
        _both_ways([work.result() for name, work in ends.items() if f", {MISTAKES:.0%} wrong" in name])
        singles = [pool.submit(single_wire, arrangement) for arrangement in Arrangement]
        plans = {wires: pool.submit(against_the_best, wires, random.Random(SEED)) for wires in (1, 2, 3, 4)}
        for arrangement, work in zip(Arrangement, singles, strict=True):
            taken, least = work.result()
            print(
                f"  one wire, {arrangement} signals: readings by advice {taken:.2f}, by the best plan under the same "
                f"rule {least:.2f}: {taken / least:.2f} x (wanted 1.25)"
            )
        for wires, work in plans.items():
            taken, least = work.result()
            print(
                f"  wires: {wires}, readings by advice {taken:.2f}; with everything known the same rule stops after "
                f"about {least:.2f}, less than any plan needs: {taken / least:.2f} x (wanted 1.25)"
            )
    _taps(TAPS)
    _against_every_plan(EVERY_PLAN)
    small, _ = milliseconds_for(6, 10)
    verdict, advised = milliseconds_for(24, 20)
    print("Time in the core, median")
    print(f"  24 wires x 20 states: verdicts {verdict:.0f} ms (wanted 50), with advice {advised:.0f} ms")
    print(f"  as a ratio to 6 wires x 10 states: {verdict / small:.1f} x for 8 x the readings")


def _taps(count: int) -> dict[tuple[str, str], Tally]:
    """Until a job has what it taps; both players on the same places, one reading in twenty a slip."""
    print(f"What a job taps and its ground, {MISTAKES:.0%} of readings wrong, {count} jobs a row, later {count // 4}")
    found = played(count)
    for name, jobs in ROWS.items():
        routine, advice = found.get(("routine", name)), found["advice", name]
        if routine is not None:
            print(f"  {name}, routine  {routine.row()}")
        print(f"  {name}, advice   {advice.row()}; stated {1000 * advice.doubt / advice.jobs:.1f} in 1,000")
        if routine is not None:
            readings, changes = advice.readings / routine.readings, advice.changes / routine.changes
            most_readings, most_changes = TAPS_WANTED[jobs.taps]
            print(
                f"     readings {readings:.2f} x the routine's (wanted {most_readings}), changes {changes:.2f} x "
                f"(wanted {most_changes}); wanted: at most 5 in 1,000 and 3 %"
            )
    told = [each for (player, _), tally in found.items() if player == "advice" for each in tally.told]
    stated, wrong = sum(doubt for doubt, _ in told), sum(was for _, was in told)
    low, high = lower_bound(wrong, len(told)), upper_bound(wrong, len(told))
    print(
        f"  all rows: stated {stated:.1f} wrong taps, there were {wrong} of {len(told)} ({1000 * low:.1f} to "
        f"{1000 * high:.1f} in 1,000; stated {1000 * stated / len(told):.1f}; wanted: within a factor of two)"
    )
    return found


def _against_every_plan(cases: Sequence[tuple[Function, int]]) -> None:
    """The advice for one function on small lamps, alone, against every plan of five readings in four states."""
    with ProcessPoolExecutor() as pool:
        work = [(case, pool.submit(against_every_plan, *case)) for case in cases]
        for (function, wires), one in work:
            found = one.result()
            print(
                f"  {function}, {wires} wires: {found.effort:.1f} touches with walks, {found.readings:.1f} readings, "
                f"by the best plan {found.best_effort:.1f}: {found.ratio:.2f} x (wanted 1.25)"
            )


EVERY_PLAN = [(Function.REVERSE, 2), (Function.TURN_LEFT, 2), (Function.TAIL, 2)]
EVERY_PLAN_OF_THREE = [(Function.REVERSE, 3), (Function.TURN_LEFT, 3)]


def played(count: int) -> dict[tuple[str, str], Tally]:
    """Every row by both players; rows beside the main ones a quarter as often."""
    with ProcessPoolExecutor() as pool:
        work = {}
        for name, jobs in ROWS.items():
            many = count if jobs == Jobs(jobs.taps) else count // 4
            step = -(-many // CHUNKS)
            for player in PLAYERS if not jobs.computer_fed else ("advice",):  # no test lamp, so no routine
                chunks = [pool.submit(chunk, player, jobs, n, min(n + step, many)) for n in range(0, many, step)]
                work[player, name] = chunks
        return {each: reduce(Tally.plus, (one.result() for one in those)) for each, those in work.items()}


TAPS, MANY_TAPS, CHUNKS = 60, 1000, 8
ROWS = {
    "1 wanted, alone": Jobs(1),
    "2 wanted, alone": Jobs(2),
    "3 wanted, alone": Jobs(3),
    "1 wanted, with a helper": Jobs(1, solo=False),
    "1 wanted, behind a computer": Jobs(1, computer_fed=True),
    "1 wanted, fuse box": Jobs(1, ("fuse_box",)),
    "2 wanted, plugs, contacts swapped": Jobs(2, PLUGS, swapped=1.0),
}
TAPS_WANTED = {1: (1.2, 1.2), 2: (1.0, 1.0), 3: (0.85, 0.9)}
SLIPS = {
    Slip.NOT_ON: "a control not on",
    Slip.CLIP_ON_PLUS: "the clip on plus",
    Slip.SWAPPED: "two pins swapped",
}
MISTAKES = 0.05
"""One reading in twenty, at which settled verdicts are counted."""


def _row(name: str, score: Score, *, is_spoilt: bool = False) -> None:
    calibrated, count = score.between(0.90, 0.95)
    last = f"{score.named / GRIDS:>17.0%} of {GRIDS}" if is_spoilt else f"{calibrated:>21.0%} of {count}"
    right = f"{score.right:>8.2%} ± {100 * score.right_within:.2f} of {len(score.sure)}"
    print(f"  {name:<44}{right:<23}{score.settled:>6}, {score.wrong_share:.2%} (up to {score.most_wrong:.2%}){last}")


def _both_ways(found: Sequence[Advised]) -> None:
    """Settled verdicts at one mistake in twenty, of all rows together, by both ways of stopping."""
    ends = (sum(row.score.wrong_settled for row in found), sum(row.score.settled for row in found))
    firsts = (sum(row.first_wrong for row in found), sum(row.first for row in found))
    for what, (wrong, of) in {"at the end of the advice": ends, "each as soon as it settled": firsts}.items():
        print(
            f"  settled {what}, {MISTAKES:.0%} of readings wrong: {wrong} of {of} wrong ({wrong / of:.2%}), "
            f"at most {upper_bound(wrong, of):.2%} with {CONFIDENCE:.0%} (wanted 0.50%)"
        )


def _advice_row(name: str, found: Advised) -> None:
    score = found.score
    print(
        f"  {name:<41}{found.share:>11.1%}{score.right:>9.2%}   {score.settled / len(score.sure):.0%}, "
        f"{score.wrong_settled} of {score.settled} wrong ({score.wrong_share:.2%})   "
        f"{found.first_wrong} of {found.first} wrong ({found.first_wrong / max(found.first, 1):.2%})"
    )


def _circuit() -> None:
    name, network = largest()
    own = state_table_ms(network)
    print(f"Circuit, largest sample: {name}, {len(network.elements)} elements; all states and phases")
    print(f"  {own:.0f} ms (wanted 100)")
    other = ngspice_ms(network)
    if other is None:
        print("  ngspice is not installed: no comparison")
    else:
        each, together, decks = other
        print(
            f"  ngspice started once for each of {decks} decks {each:.0f} ms: {each / own:.1f} x (wanted 10); "
            f"one process for all {together:.0f} ms: {together / own:.1f} x (wanted 1)"
        )
    print(f"  ten seconds over time {timeline_ms(network):.0f} ms (wanted 300)")
    print(f"  memory of the process {peak_mb():.0f} MB (wanted 150)")
    print("  elements and ms of the state table: " + ", ".join(f"{n}: {ms:.0f}" for n, ms in growth()))


def _hookup() -> None:
    print("Hook up, search of all leads with the best way of each tried on the solved circuit")
    print(f"  largest accessory, 5 leads, 7 sources: {largest_job():.0f} ms (wanted 150)")
    print(f"  12 sources, 6 leads: {large_vehicle():.0f} ms (wanted 300)")
    cold, warm = plan_ms()
    print(f"  from facts to test lines, largest accessory: {cold:.0f} ms cold, {warm:.0f} ms again (wanted 400)")


def _correct(alone: bool) -> None:
    """Three hundred vehicles take four minutes: in a run of all parts a fifth of them stand for the rest."""
    effects, first, every = largest_ms()
    print("Correct, LED bulbs in every rear socket")
    print(f"  effects at three voltages {effects:.0f} ms, first cure that passes {first:.0f} ms (wanted 300)")
    print(f"  all cures tried {every:.0f} ms (wanted 2000)")
    print(f"  the first set of fixes that ends everything {first_set_ms():.0f} ms with its effects (wanted 500)")
    count = SWAPPED_VEHICLES if alone else SWAPPED_VEHICLES // 5
    tally = swaps(count)
    print(
        f"  {count} vehicles with LED swaps, of another threshold, wiring and bulbs than assumed: the first cure "
        f"left nothing it had not said on {tally.held} of {tally.held + tally.failed}, {tally.share:.1%} "
        f"(wanted 95 %); {tally.none_needed} needed none, {tally.refused} were refused a computed cure"
    )


def _pages() -> None:
    found = measure_pages()
    print(
        f"Pages, {MANY_JOBS} full jobs in the database (at most {QUERY_LIMIT} queries, 400 ms at first, 150 ms then)"
    )
    for path, queries, first, ms in found.rows:
        print(f"  {path:<28} {queries:>3} queries {first:>7.0f} ms with nothing kept {ms:>7.0f} ms then")
    board_ms = found.rows[0][-1]
    print(f"  the board with {MANY_JOBS} jobs against {FEW_JOBS}: {board_ms / found.few_ms:.2f} x (wanted 1)")
    print(
        f"400 readings taken in: {found.import_ms:.0f} ms (wanted 1000), {found.import_queries} queries (wanted 30)"
    )
    for what, times, wanted in (
        ("Reading typed to verdicts, on the server, 24 wires", found.saves_ms, "50 and 100"),
        ("Advice that follows it, for what the job taps", found.advice_ms, "300 warm"),
        ("Way chosen to hook-up redrawn, on the server", found.redraws_ms, "150"),
    ):
        print(f"{what}: median {statistics.median(times):.0f} ms, worst {max(times):.0f} ms (wanted {wanted})")
    print(
        f"Sheets of the demo job with the most steps ({found.steps}), parts, steps and test lines from its plan: "
        f"{found.sheets_ms:.0f} ms (wanted 200); as PDF {found.rows[-1][-1] / 1e3:.1f} s (wanted 3)"
    )
    ratio = statistics.median(found.saves_ms) / found.empty_ms
    print(f"  a reading to its verdicts takes {ratio:.1f} x a page with nothing on it ({found.empty_ms:.0f} ms)")


if __name__ == "__main__":
    main()
