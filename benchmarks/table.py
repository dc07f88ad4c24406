"""``./idle-harbor bench``: every figure to keep, with what was measured just now."""

from __future__ import annotations

# isort: off
from benchmarks.loss_system import THEORY, compare  # first: see compiled_engine
from benchmarks.edit_to_picture import measure
from benchmarks.estates import sharing_to_alone
from benchmarks.footprint import measure_footprint
from benchmarks.jobs import time_jobs
from benchmarks.kills import kill
from benchmarks.people import time_draws
from benchmarks.plain_week import compare_plain_week
from benchmarks.starting import measure_starts
from benchmarks.studies import time_studies
from benchmarks.verbs import time_verbs
from benchmarks.weeks import time_weeks

# isort: on


def _row(what: str, bar: str, measured: str, kept: bool) -> None:
    print(f"{what:44}{bar:>16}{measured:>22}   {'kept' if kept else 'MISSED'}", flush=True)


def long_work() -> list[str]:
    """The rows of long work; returns what there is to say besides."""
    jobs = time_jobs()
    _row("asked to first part kept", "≤ 60 ms", f"{jobs.first:.0f} ms", jobs.first <= 60)
    share, twice = jobs.queued, jobs.doubled
    _row("weeks through the queue, of a loop", "≥ 90 %", f"{share:.0%}", share >= 0.9)
    _row("  two workers to one", "≥ 1.8 ×", f"{twice:.2f} ×", twice >= 1.8)
    _row("  a stop heard", "≤ 1 s", f"{jobs.stop:.2f} s", jobs.stop <= 1)
    _row("  the demo's office for a year", "≤ 10 s", f"{jobs.year:.1f} s", jobs.year <= 10)
    held = measure_footprint()
    more = held.after / held.before
    _row("web server's memory over 1,000 jobs", "≤ 1.05 ×", f"{more:.2f} ×", more <= 1.05)
    kills = kill()
    said = f"{kills.lost} and {kills.stuck}"
    _row("50 kills: parts lost, jobs stuck", "0 and 0", said, not kills.lost + kills.stuck)
    return [
        f"{jobs.loop:.0f} weeks of 2,000 people a second in a loop, {jobs.one:.0f} through the "
        f"queue on one worker, {jobs.two:.0f} on two; two loops at once without a queue are "
        f"{jobs.loops:.2f} times as fast as one",
        f"killed: {kills.killed}, {kills.jobs} jobs, {kills.wrong} with another result",
    ]


def studies() -> str:
    """The rows of studies; returns what there is to say besides."""
    found = time_studies()
    alone = found.alone
    _row(
        "1,000 weeks of candidates, 2,000 people",
        "≤ 40 s",
        f"{alone.seconds:.1f} s",
        alone.seconds <= 40,
    )
    _row("  the first point that is kept", "≤ 5 s", f"{alone.first:.1f} s", alone.first <= 5)
    _row("  memory", "≤ 1,000 MB", f"{alone.megabytes:,.0f} MB", alone.megabytes <= 1_000)
    lean = alone.whole / alone.lean
    _row("  a candidate's week, leaner than a whole one", "≥ 2 ×", f"{lean:.1f} ×", lean >= 2)
    return (
        f"a whole week of 2,000 people {alone.whole:.1f} ms, a candidate's {alone.lean:.1f} ms; "
        f"a study on two workers {found.doubled:.2f} times as fast as on one"
    )


def estates() -> None:
    """The row of pools that share."""
    sharing = sharing_to_alone()
    _row("pools that share a throttle, to alone", "≤ 1.3 ×", f"{sharing:.2f} ×", sharing <= 1.3)


def main() -> None:
    """Print the table; the exit code says nothing, since speed is no test."""
    print(f"{'what':44}{'bar':>16}{'measured':>22}")
    ours, *yardsticks = compare()
    by_simpy, by_processes, by_events = (ours.times(yardstick) for yardstick in yardsticks)
    _row("loss system against SimPy", "≥ 60 ×", f"{by_simpy:.0f} ×", by_simpy >= 60)
    _row("  a compiled engine, same model", "≥ 3 ×", f"{by_processes:.1f} ×", by_processes >= 3)
    _row("  that engine's quickest form", "≥ 1 ×", f"{by_events:.2f} ×", by_events >= 1)
    plain = compare_plain_week()
    _row("week of 2,000 people against SimPy", "≥ 100 ×", f"{plain:.0f} ×", plain >= 100)
    small, large = time_weeks((5_000, 50_000))
    total = (small.engine + small.metrics) * 1000
    _row("week of 5,000 people, all figures", "≤ 60 ms", f"{total:.1f} ms", total <= 60)
    growth = (large.engine + large.metrics) / (small.engine + small.metrics)
    _row("growth, 50,000 people to 5,000", "≤ 12 ×", f"{growth:.1f} ×", growth <= 12)
    full_small, full, full_large = time_weeks((2_000, 5_000, 50_000), everything=True)
    total = (full_small.engine + full_small.metrics) * 1000
    _row("week of 2,000 people with every rule", "≤ 25 ms", f"{total:.1f} ms", total <= 25)
    total = (full.engine + full.metrics) * 1000
    _row("  every setting of hosts in use", "≤ 60 ms", f"{total:.1f} ms", total <= 60)
    growth = (full_large.engine + full_large.metrics) / (full.engine + full.metrics)
    _row("  its growth", "≤ 12 ×", f"{growth:.1f} ×", growth <= 12)
    estates()
    week_of_many, year_of_some = time_draws(50_000, 7), time_draws(5_000, 365)
    drawn = week_of_many.seconds * 1000
    _row("drawing 50,000 people for a week", "≤ 250 ms", f"{drawn:.0f} ms", drawn <= 250)
    drawn = year_of_some.seconds
    _row("drawing 5,000 people for a year", "≤ 1.5 s", f"{drawn:.2f} s", drawn <= 1.5)
    measured = measure()
    edits = (
        ("edit to picture, 2,000 people, p95", 100, measured.board),
        ("  10,000 people", 250, measured.large),
        ("  four pages at once", 200, measured.four),
        ("limit dragged to sizing picture, p95", 100, measured.sizing),
    )
    for what, bar, edit in edits:
        _row(what, f"≤ {bar} ms", f"{edit.p95:.0f} ms", edit.p95 <= bar)
    one = measured.board
    _row("  of which the request", "≤ 35 ms", f"{one.request_p95:.0f} ms", one.request_p95 <= 35)
    _row("  the server alone", "≤ 35 ms", f"{measured.server:.0f} ms", measured.server <= 35)
    for where, seen in (("Board", one), ("Hosts", measured.sizing), ("People", measured.people)):
        what = f"previews a second on {where}"
        _row(what, "≥ 20", f"{seen.previews:.0f}", seen.previews >= 20)
    pace = measured.lanes.a_second
    _row("lanes of 300 hosts, frames a second", "≥ 58", f"{pace:.1f}", pace >= 58)
    told = [*long_work(), studies()]
    for verb in time_verbs():
        _row(
            f"verb {verb.name}",
            f"≤ {verb.bar} × numpy",
            f"{verb.ratio:.1f} ×",
            verb.ratio <= verb.bar,
        )
    first, later = measure_starts()
    _row("later starts", "≤ 5 s", f"{later.seconds:.1f} s", later.seconds <= 5)
    print()
    for side in (ours, *yardsticks):
        print(
            f"{side.name:28}{side.per_second:12,.0f} arrivals/s, "
            f"blocking {side.blocking:.5f} (Erlang B {THEORY})"
        )
    for week in (small, large, full, full_large):
        print(
            f"{week.people:7,} people, {week.hosts:5,} hosts: demand {week.demand * 1000:.0f} ms, "
            f"engine {week.engine * 1000:.1f} ms, figures {week.metrics * 1000:.1f} ms, "
            f"{week.engine / week.events * 1e9:.0f} ns an event ({week.events:,})"
        )
    for draw in (week_of_many, year_of_some):
        print(
            f"{draw.people:,} people over {draw.days} days: {draw.spells:,} spells, "
            f"{draw.seconds / draw.spells * 1e9:.0f} ns each, {draw.megabytes:.0f} MB at most"
        )
    print("\n".join(told))
    print(f"start with packages installed, {first.seconds:.0f} s: {first.parts}")
    print(f"later start, {later.seconds:.1f} s: {later.parts}")
    print(f"the server alone, four at once: p95 {measured.server_four:.0f} ms")
    for what, _, edit in edits:
        print(
            f"{what.strip()}: median {edit.p50:.0f} ms over {edit.drags} drags, p95 at full speed "
            f"{edit.p95_full:.0f} ms, request p95 {edit.request_p95:.0f} ms, frames p95 "
            f"{edit.frames_p95:.0f} ms, "
            f"{edit.previews:.0f} previews a second ({edit.previews_full:.0f} at full speed)"
        )


if __name__ == "__main__":
    main()
