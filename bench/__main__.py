"""Prints the figures that the README quotes: `make bench`. Nothing here fails on a slow machine."""

from __future__ import annotations

from bench.identify import GRIDS, milliseconds_for, share_right, share_used
from bench.pages import measure_pages

QUERY_LIMIT = 12


def main() -> None:
    print(f"Identify, {GRIDS} generated rear and front lamps, readings from lamp physics and habit")
    for mistakes, wanted in ((0.0, "99"), (0.05, "95")):
        right, wrong_settled, wires = share_right(mistakes)
        print(
            f"  full grids, {mistakes:4.0%} of readings wrong: {right:7.2%} of {wires} wires right "
            f"(wanted {wanted} %); of those shown as settled {wrong_settled:.2%} wrong"
        )
    for mistakes in (0.0, 0.05):
        used, right, settled = share_used(mistakes)
        print(
            f"  following advice, {mistakes:4.0%} wrong: {used:6.1%} of the full grid (wanted at most 45 %), "
            f"{right:.2%} right, {settled:.2%} settled"
        )
    small, _ = milliseconds_for(6, 10)
    verdict, advised = milliseconds_for(24, 10)
    print("Time in the core, median")
    print(f"  24 wires x 10 states: verdicts {verdict:.0f} ms, with advice {advised:.0f} ms")
    print(f"  as a ratio to 6 wires x 10 states: {verdict / small:.1f} x for 4 x the wires")
    rows, median, worst = measure_pages()
    print(f"Pages, with some 2000 jobs in the database (limit {QUERY_LIMIT} queries)")
    for path, queries, ms in rows:
        print(f"  {path:<28} {queries:>3} queries {ms:>7.0f} ms")
    print(
        "Reading typed to verdicts, on the server, 24 wires: "
        f"median {median:.0f} ms, worst {worst:.0f} ms (wanted 100)"
    )


if __name__ == "__main__":
    main()
