"""Drawn pools, schedules and people for tests of what must hold on any plan."""

from dataclasses import replace

from hypothesis import strategies as st

from idle_harbor.core.engine.kernel.codes import DRILL_FAILS, DRILL_MUTES
from idle_harbor.core.engine.setting import Drill, Setting
from idle_harbor.core.plan import Burst
from idle_harbor.core.plan.load_rules import SIGNALS, LoadRule
from idle_harbor.core.plan.schedules import DrainStep, Notice, ReadyBy, Timeouts
from tests.builders import PROFILE, SIZE, band, pool, schedule, spells, varied

LENGTH = 20_000

timeouts = st.one_of(st.none(), st.integers(0, 4000))
bands = st.builds(
    band,
    floor=st.integers(0, 6),
    fill_ceiling=st.floats(0.05, 1),
    headroom=st.integers(0, 12),
    rule=st.sampled_from(["spread", "fill", "fill to a mark", "by room"]),
    release=st.sampled_from(["keep all", "when empty", "drain", "drain with notice"]),
    notice=st.builds(
        Notice,
        st.sampled_from([1, 10, 40]),
        st.sampled_from(["disconnected", "idle too", "everyone"]),
    ),
    load_rules=st.lists(st.sampled_from(["one", "two"]), unique=True).map(tuple),
    floor_share=st.sampled_from([0.0, 0.0, 0.3, 1.0]),
    headroom_share=st.sampled_from([0.0, 0.25]),
    mark=st.floats(0.05, 1),
    knock=st.booleans(),
    margin=st.integers(1, 3),
    lid=st.one_of(st.none(), st.integers(1, 9)),
    session_limit=st.one_of(st.none(), st.none(), st.integers(1, 5)),
    least_run_minutes=st.sampled_from([0, 0, 7, 60]),
    draining_most=st.one_of(st.none(), st.integers(1, 3)),
    draining_share=st.sampled_from([1.0, 0.4]),
    timeouts=st.one_of(st.none(), st.none(), st.builds(Timeouts, timeouts, timeouts)),
)
marks = st.sampled_from([None, 0.2, 1.0, 4.0])
load_rules = st.builds(
    LoadRule,
    st.just("one"),
    st.sampled_from(SIGNALS),
    marks,
    st.sampled_from([0, 10]),
    st.integers(1, 4),
    marks,
    st.sampled_from([0, 10]),
    st.integers(1, 4),
    st.sampled_from([0, 20]),
).filter(lambda rule: rule.asks_at is not None or rule.permits_at is not None)
targets = st.builds(
    ReadyBy,
    at=st.integers(0, 60).map(lambda k: 300 * k),
    hosts=st.integers(0, 9),
    share=st.sampled_from([0.0, 0.5]),
    until=st.one_of(st.none(), st.integers(0, 70).map(lambda k: 300 * k)),
)


comings_and_goings = st.fixed_dictionaries(
    {
        "surge": st.integers(0, 4),
        "throwaway": st.booleans(),
        "reset_seconds": st.sampled_from([0, 45, 700]),
        "counts_from": st.sampled_from(["powered", "booted", "registered", "settled"]),
        "settle_seconds": st.integers(0, 900),
        "booted_share": st.floats(0, 1),
        "start_parallel": st.one_of(st.none(), st.integers(1, 3)),
        "create_mean_seconds": st.sampled_from([0.0, 300.0]),
        "create_cv": st.sampled_from([0.0, 0.4]),
        "script_seconds": st.sampled_from([0, 90]),
        "surge_stays_minutes": st.sampled_from([0, 5, 60]),
    }
)
bursts = st.builds(Burst, st.floats(0.05, 1), st.floats(0, 1), st.floats(1, 5))


@st.composite
def settings_of_runs(draw):
    """A pool with a schedule of up to four bands within the horizon, and a profile."""
    first, *rest = draw(st.lists(bands, min_size=1, max_size=4))
    edges = sorted(draw(st.sets(st.integers(1, 60), min_size=len(rest), max_size=len(rest))))
    steps = tuple(DrainStep(0, share) for share in draw(st.lists(st.floats(0.05, 1), max_size=1)))
    first = replace(first, drain_steps=steps)
    rules = schedule(
        first,
        *(replace(b, start=300 * e) for b, e in zip(rest, edges, strict=True)),
        tick=draw(st.sampled_from([60, 300, 700])),
    )
    asked = draw(st.lists(targets, max_size=3, unique_by=lambda each: each.at))
    kinds = tuple(replace(each, ready_by=tuple(asked)) for each in rules.day_types)
    loads = (draw(load_rules), replace(draw(load_rules), id="two"))
    rules = replace(rules, day_types=kinds, load_rules=loads)
    kind = draw(st.sampled_from(["shared", "shared", "lent", "dedicated"]))
    limit = draw(st.integers(2, 5)) if kind == "shared" else 1
    over = pool(
        kind=kind,
        standing=draw(st.integers(6, 9)),
        session_limit=limit,
        start_mean_seconds=draw(st.sampled_from([0.0, 100.0, 900.0])),
        start_cv=draw(st.sampled_from([0.0, 0.5])),
        stop_seconds=draw(st.integers(0, 400)),
        patience_seconds=draw(timeouts),
        idle_timeout=draw(timeouts),
        disconnected_timeout=draw(timeouts),
        reconnect_seconds=draw(st.integers(0, 60)),
        load_limit=draw(st.floats(0.2, 1.0)),
        base_vcpu=0.2,
        start_failure_share=draw(st.sampled_from([0.0, 0.0, 0.3])),
        **(draw(comings_and_goings) if kind != "dedicated" else {}),
    )
    profile = varied(
        PROFILE,
        cpu_mean=draw(st.floats(0, 3)),
        cpu_sd=draw(st.floats(0, 1)),
        cpu_idle=0.1,
        logon_seconds=draw(st.sampled_from([0.0, 7.5, 40.0])),
        logon_vcpu=draw(st.sampled_from([0.0, 1.0, 6.0])),
        disk_ops=draw(st.floats(0, 50)),
        gpu_gib=draw(st.sampled_from([0.0, 2.0])),
    )
    size = replace(
        SIZE,
        billing_step_seconds=draw(st.sampled_from([1, 60, 3600])),
        gpu_gib=6.0,
        disk_ops=draw(st.sampled_from([None, 90.0])),
        burst=draw(st.one_of(st.none(), bursts)),
    )
    drills = draw(
        st.lists(
            st.builds(
                Drill,
                st.integers(0, 15_000),
                st.integers(1, 6_000),
                zone=st.one_of(st.none(), st.integers(0, 2)),
                hosts=st.integers(0, 4),
                kind=st.sampled_from((DRILL_FAILS, DRILL_MUTES)),
            ),
            max_size=3,
        )
    )
    behind = (draw(st.booleans()),)
    return Setting(over, rules, size, (profile,), behind=behind, zones=3, drills=tuple(drills))


@st.composite
def demands(draw):
    """Up to 60 spells of up to 40 people, no two of one person overlapping."""
    people = draw(st.integers(1, 40))
    rows = []
    for person in range(people):
        at = draw(st.integers(0, 12_000))
        for _ in range(draw(st.integers(1, 3))):
            end = at + draw(st.integers(1, 5000))
            rows.append((person, at, end, draw(st.integers(0, 2))))
            at = end + draw(st.integers(0, 3000))
    rows = [row for row in rows if row[1] < LENGTH]
    return spells(rows, from_connection=False)
