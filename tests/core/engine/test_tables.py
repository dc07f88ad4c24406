"""Every table of the compiled loop at its bound: as large as it must be, and not an entry less.

The loop is compiled without looking at bounds. In the checked build (`IDLE_HARBOR_CHECKED=1`) each
index is compared with the true size of its table, so there a table made one entry shorter than
it is must be found out, and at its own size nothing may be.
"""

import ctypes
import os
from dataclasses import replace

import numpy as np
import pytest

from idle_harbor.core.base.arena import Arena, Table
from idle_harbor.core.base.compiled import CHECKED
from idle_harbor.core.engine import run as engine
from idle_harbor.core.engine import worlds as engine_world
from idle_harbor.core.engine.kernel import codes as k
from idle_harbor.core.engine.run import run
from idle_harbor.core.engine.setting import Drill, Setting
from idle_harbor.core.engine.tables import Room, tables_of
from idle_harbor.core.engine.worlds import World
from idle_harbor.core.errors import EngineError
from idle_harbor.core.plan import Burst
from idle_harbor.core.plan.load_rules import LoadRule
from idle_harbor.core.plan.schedules import ReadyBy
from tests.builders import (
    PROFILE,
    SIZE,
    band,
    go,
    horizon,
    outcomes,
    pool,
    schedule,
    simple,
    varied,
)

HOSTS, LIMIT, PEOPLE, GROUPS = 70, 65, 70, 3
SECONDS = 9_000
#: More people at once than the one ready host takes, of a pool that uses every table; the last few
#: come when all hosts are ready, so that some of theirs are drained afterwards.
ROWS = [(person, 100 if person < 68 else 2700, 4000) for person in range(PEOPLE)]
GROWING = ("heap_at", "action_at", "lane_at", "queue_at", "starts_at")


def crowded(kind: str = "shared") -> Setting:
    """70 hosts are two words of a bit set; sessions up to 65 are two words of its summary."""
    shared = kind == "shared"
    over = pool(
        kind=kind,
        standing=HOSTS - 2 if shared else HOSTS,
        surge=2 if shared else 0,
        session_limit=LIMIT if shared else 1,
        start_parallel=1,
        start_mean_seconds=20.0,
        start_cv=0.3,
    )
    rules = schedule(
        band(floor=1, headroom=0, release="drain"),
        replace(band(floor=HOSTS, rule="by room", release="drain"), start=1200),
        replace(band(floor=0, rule="fill", release="drain"), start=3000),
    )
    targets = (ReadyBy(2_400, 10),)
    kinds = tuple(replace(each, ready_by=targets) for each in rules.day_types)
    rules = replace(rules, day_types=kinds, load_rules=(LoadRule("busy", "cpu", 0.5),))
    size = replace(SIZE, burst=Burst(0.5, 0.001, 5.0))
    return Setting(over, rules, size, (PROFILE,), measures_network=True, looks=50)


def people(rows=ROWS):
    """The last of them is of the last group."""
    given = simple(rows)
    groups = np.minimum(given.person, GROUPS - 1).astype(np.int16)
    return replace(given, group=groups)


def simulate(setting: Setting):
    return run(setting, horizon(SECONDS), people(), 1, record=True)


OWN_ONLY = {"home_at", "owner_at", "waits_at"}
NAMES = tuple(tables_of(crowded(), people(), 1, Room.guess(1, 1, 1), 1))
FIXED = tuple(name for name in NAMES if name not in GROWING)


def shorter(monkeypatch, name: str) -> None:
    """Have one table made an entry too small."""
    true = engine_world.tables_of

    def made(*arguments, **counts):
        tables = true(*arguments, **counts)
        tables[name] = replace(tables[name], count=tables[name].count - 1)
        return tables

    monkeypatch.setattr(engine_world, "tables_of", made)


@pytest.mark.parametrize("kind", ["shared", "dedicated"])
def test_at_their_sizes_all_tables_do(kind):
    result = simulate(crowded(kind))
    assert (result.results["outcome"] == k.OUT_CONNECTED).all()


@pytest.mark.skipif(not CHECKED, reason="only the checked build looks at bounds")
@pytest.mark.parametrize("name", FIXED)
def test_an_entry_less_is_found_out(monkeypatch, name):
    setting = crowded("dedicated" if name in OWN_ONLY else "shared")
    simulate(setting)
    shorter(monkeypatch, name)
    # Tables that are filled before the loop tell so by their shape.
    with pytest.raises((IndexError, ValueError)):
        simulate(setting)


@pytest.mark.parametrize("name", ["ordinals", "heap", "log", "queue", "starts"])
@pytest.mark.parametrize("kind", ["shared", "dedicated"])
def test_a_table_that_was_too_small_makes_the_run_begin_anew(monkeypatch, name, kind):
    """From room for one on, each doubled as often as it takes: the same result, bit for bit."""
    usual = simulate(crowded(kind))
    tried = []

    class Counted(World):
        def __init__(self, member, seed, room):
            tried.append(getattr(room, name))
            super().__init__(member, seed, room)

    guess = Room.guess
    monkeypatch.setattr(Room, "guess", lambda *sizes: varied(guess(*sizes), **{name: 1}))
    monkeypatch.setattr(engine, "World", Counted)
    again = simulate(crowded(kind))
    assert np.array_equal(usual.results, again.results)
    assert np.array_equal(usual.bins, again.bins)
    assert np.array_equal(usual.lanes, again.lanes)
    assert np.array_equal(usual.actions, again.actions)
    # Starts of one host may take one draw; each of the others is short at one.
    assert tried[0] == 1 and (len(tried) > 1 or name == "ordinals")


def test_what_never_suffices_is_an_error_and_not_a_result(monkeypatch):
    monkeypatch.setattr(Room, "larger", lambda self, short: self)
    guess = Room.guess
    monkeypatch.setattr(Room, "guess", lambda *sizes: replace(guess(*sizes), heap=1))
    with pytest.raises(EngineError, match="needs more than"):
        simulate(crowded())


def test_writing_beside_a_table_is_an_error(monkeypatch):
    """A canary changed behind the loop's back, on either side of a table."""
    loop = engine_world.run_loop
    for beside in (-20, 1):
        worlds = []

        class Kept(World):
            def __init__(self, *arguments, worlds=worlds, **more):
                super().__init__(*arguments, **more)
                worlds.append(self)

        def beside_it(address, worlds=worlds, beside=beside):
            loop(address)
            table = worlds[-1].arena["rows_at"]
            at = worlds[-1].arena.addresses()["rows_at"] + (
                beside if beside < 0 else table.nbytes + beside
            )

            ctypes.memset(at, 0, 1)

        monkeypatch.setattr(engine, "World", Kept)
        monkeypatch.setattr(engine_world, "run_loop", beside_it)
        with pytest.raises(EngineError, match="beside its tables"):
            simulate(crowded())


def test_an_arena_keeps_tables_apart_and_knows_their_sizes():
    arena = Arena(
        {
            "none": Table(np.dtype(np.int64), 0),
            "seven": Table(np.dtype(np.int8), 7),
            "words": Table(np.dtype(np.uint64), 9),
        }
    )
    begins = arena.addresses()
    assert [begin % 64 for begin in begins.values()] == [0, 0, 0]
    assert begins["seven"] >= begins["none"] + 64 and begins["words"] >= begins["seven"] + 71
    assert arena.whole()
    arena["seven"][:] = 1
    arena["words"][:] = 2
    assert arena.whole()


def test_fresh_memory_is_filled_with_a_pattern_in_tests():
    """So that a read of what nobody wrote shows at once; zeros would hide it."""

    assert os.environ.get("MALLOC_PERTURB_", "0") != "0"


def test_nobody_is_behind_a_slow_line_where_no_line_is_slow():
    """Three groups, none behind a slow line, network measured for its price: comfort is whole.

    The table of who is behind had one entry then, whatever the number of groups.
    """
    result = go(people(), band(floor=9), standing=9, session_limit=9, measures_network=True)
    assert result.total(k.L_BEHIND) == 0.0
    assert result.total(k.L_WORKING) == sum(end - start for _, start, end in ROWS)


@pytest.mark.parametrize("many", [60, 500])
def test_everyone_thrown_out_stands_in_line_a_second_time(many):
    """Dedicated, floor 0: each knocks at 100 and has the host at 220. All fail from 1,000 to
    1,100; each asks again, is first seen at 1,100, and has a host at 1,220."""
    rows = simple([(person, 100, 5000) for person in range(many)])
    over = pool(kind="dedicated", standing=many, session_limit=1)
    rules = schedule(band(floor=0, release="when empty"))
    result = go(rows, over=over, rules=rules, seconds=9000, drills=(Drill(1000, 100, hosts=many),))
    assert outcomes(result) == [(k.OUT_CONNECTED, 120 + 220)] * many
    assert result.interrupted == many


def test_an_old_place_in_line_is_not_taken_twice():
    """A start takes 200 s, a stop 900 s; each has a listed host; patience is 300 s.

    Hosts of 0 and 2, used from 300 to 400, stop from 600 to 1,500. Person 2 asks again at 990 and
    person 0 at 993: refused at 1,290 and 1,293. Person 1 asks in between, at 991, is served out of
    the line at 1,191, is thrown out at 1,200 and stands in line again until 1,500. Were the old
    place, before person 0's, taken for theirs, person 0 would stay until 1,500 as well.
    """
    rows = simple([(0, 100, 400), (2, 100, 400), (2, 990, 5000), (1, 991, 5000), (0, 993, 5000)])
    over = pool(
        kind="dedicated",
        standing=3,
        session_limit=1,
        patience_seconds=300,
        start_mean_seconds=200.0,
        stop_seconds=900,
    )
    result = go(
        rows,
        over=over,
        rules=schedule(band(floor=0, release="when empty")),
        seconds=9000,
        homes=((1, 0), (0, 1), (2, 2)),
        drills=(Drill(1200, 7000, hosts=1),),
    )
    assert [outcome for outcome, _ in outcomes(result)] == [
        k.OUT_CONNECTED,
        k.OUT_CONNECTED,
        *3 * [k.OUT_REFUSED],
    ]
    waited = {0: 200 + 300, 1: 200 + 300, 2: 200 + 300}
    assert result.total(k.L_WAITING) == sum(waited.values())
