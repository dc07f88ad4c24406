"""What must hold on any plan, tried on many drawn ones."""

from dataclasses import replace
from datetime import date

import numpy as np
from hypothesis import assume, given, settings

from idle_harbor.core.calendar.clock import Horizon
from idle_harbor.core.calendar.targets import targets_of
from idle_harbor.core.engine.kernel import codes as k
from idle_harbor.core.engine.kernel.codes import DRILL_FAILS, DRILL_MUTES, Action, Cause
from idle_harbor.core.engine.run import Run, run
from idle_harbor.core.engine.setting import Setting
from idle_harbor.core.figures.hosthours import host_hours_of
from idle_harbor.core.plan import Band
from idle_harbor.core.policy.in_force import bands_of
from tests.core.engine.drawn import LENGTH, demands, settings_of_runs
from tests.sizes import size


def fails(setting: Setting) -> bool:
    """Whether any host fails."""
    return any(drill.kind == DRILL_FAILS for drill in setting.drills)


def band_at(setting: Setting, time: int) -> Band:
    """The band in force at a second of the horizon, which is of one day."""
    return [band for band in setting.schedule.day_types[0].bands if band.start <= time][-1]


#: States in which a host holds nobody.
WITHOUT_SESSIONS = (k.OFF, k.STARTING, k.STOPPING, k.CREATING, k.RESETTING)
WITHOUT_SESSIONS += (k.QUEUED, k.ABSENT, k.FAILED)


#: States in which a host is there for the policy, or comes.
HAD = (k.READY, k.STARTING, k.QUEUED, k.CREATING, k.RESETTING)


def last_of_second(lanes):
    """Which changes are the last of their host's in their second: a failure takes several."""
    order = np.lexsort((np.arange(len(lanes)), lanes["time"], lanes["host"]))
    found = np.ones(len(lanes), dtype=bool)
    same = (lanes["host"][order][1:] == lanes["host"][order][:-1]) & (
        lanes["time"][order][1:] == lanes["time"][order][:-1]
    )
    found[order[:-1]] = ~same
    return found


def simulated(setting: Setting, demand, seed: int = 1) -> Run:
    horizon = Horizon("UTC", date(1970, 1, 1), 0, 1, 0, 0, LENGTH)
    return run(setting, horizon, demand, seed, record=True)


@settings(max_examples=size(75, 450))
@given(settings_of_runs(), demands())
def test_conservation(setting, demand):
    result = simulated(setting, demand)
    limit, hosts = setting.pool.session_limit, setting.pool.hosts.most
    outcome = result.results["outcome"]
    pending = outcome == k.OUT_PENDING
    kinds = (k.OUT_CONNECTED, k.OUT_REFUSED, k.OUT_RECONNECTED, k.OUT_LOST)
    assert sum((outcome == kind).sum() for kind in kinds) + pending.sum() == len(demand)
    lanes = result.lanes
    assert lanes["sessions"].max(initial=0) <= limit and lanes["sessions"].min(initial=0) >= 0
    off = lanes[np.isin(lanes["state"], WITHOUT_SESSIONS) & last_of_second(lanes)]
    assert off["sessions"].max(initial=0) == 0
    whole = result.bins.sum(axis=0)
    assert (result.bins[:, : k.L_ALL] >= -1e-9).all()
    powered = whole[list(k.POWERED_LEVELS)].sum()
    exist = whole[[k.L_STANDING, k.L_SURGE]].sum()
    assert powered <= exist + 1e-6
    assert whole[k.L_STRAINED] + whole[k.L_BEHIND] <= whole[k.L_WORKING] + 1e-6
    assert whole[k.L_SPENT] <= powered + 1e-6
    assert powered <= hosts * LENGTH + 1e-6
    parts = host_hours_of(result, 0.0)
    five = (parts.in_use, parts.lingering, parts.fragmentation, parts.readiness, parts.transit)
    assert min(five) >= -1e-9
    assert abs(sum(five) - powered / 3600) < 1e-6
    assert whole[k.L_STRAINED] <= whole[k.L_WORKING] + 1e-6
    states = whole[[k.L_ACTIVE, k.L_IDLE, k.L_DISCONNECTED]].sum()
    assert abs(states - whole[k.L_ALL]) < 1e-6


@settings(max_examples=size(50, 300))
@given(settings_of_runs(), demands())
def test_lanes_agree_with_the_levels(setting, demand):
    """Host states partition time: the lanes add up to the bins."""
    result = simulated(setting, demand)
    ready = sessions = 0
    for host in range(setting.pool.hosts.most):
        lane = result.lanes[result.lanes["host"] == host]
        times = np.append(lane["time"], LENGTH).astype(np.int64)
        spans = np.diff(times)
        assert (spans >= 0).all() and lane["time"][0] == 0
        ready += int(spans[lane["state"] == k.READY].sum())
        sessions += int((spans * lane["sessions"]).sum())
    assert ready == round(result.total(k.L_READY))
    assert sessions == round(result.total(k.L_ALL))


@settings(max_examples=size(50, 300))
@given(settings_of_runs(), demands())
def test_no_new_session_on_a_draining_host(setting, demand):
    result = simulated(setting, demand)
    for host in range(setting.pool.hosts.most):
        lane = result.lanes[result.lanes["host"] == host]
        draining = (lane["state"][1:] == k.DRAINING) & (lane["state"][:-1] == k.DRAINING)
        assert (np.diff(lane["sessions"])[draining] <= 0).all()
    stops = result.actions[result.actions["action"] == Action.STOP]
    for time, host in zip(stops["time"].tolist(), stops["host"].tolist(), strict=True):
        lane = result.lanes[(result.lanes["host"] == host) & (result.lanes["time"] <= time)]
        assert lane["sessions"][-1] == 0


@settings(max_examples=size(30, 180))
@given(settings_of_runs(), demands())
def test_nobody_waits_while_a_ready_host_has_room(setting, demand):
    """Whoever is first gets the first room, at once: nobody who waits does so beside free slots.

    In a dedicated pool a free host may be somebody else's; who is thrown out asks twice.
    """
    assume(setting.pool.kind != "dedicated" and not fails(setting))
    result = simulated(setting, demand)
    for index in np.flatnonzero(result.results["queued"] > 1):
        middle = int(demand.start[index]) + int(result.results["queued"][index]) - 1
        free = 0
        for host in range(setting.pool.hosts.most):
            lane = result.lanes[(result.lanes["host"] == host) & (result.lanes["time"] <= middle)]
            if lane["state"][-1] == k.READY:
                takes = band_at(setting, middle).takes(setting.pool.session_limit)
                free += max(takes - int(lane["sessions"][-1]), 0)
        assert free == 0


@settings(max_examples=size(20, 120))
@given(settings_of_runs(), demands())
def test_same_seed_same_result(setting, demand):
    one, two = simulated(setting, demand), simulated(setting, demand)
    assert np.array_equal(one.results, two.results)
    assert np.array_equal(one.lanes, two.lanes)
    assert np.array_equal(one.bins, two.bins)


@settings(max_examples=size(30, 180))
@given(settings_of_runs(), demands())
def test_what_only_some_pools_have_stays_theirs(setting, demand):
    """Throwaway hosts are never off; no more start at once than may; no host is cleaned unasked."""
    result = simulated(setting, demand)
    pool, peaks = setting.pool, result.peaks
    if pool.hosts.throwaway:
        assert not (result.lanes["state"] == k.OFF).any()
    # A host whose agent does not register is starting still, and holds no start up.
    silent = any(drill.kind == DRILL_MUTES for drill in setting.drills)
    if pool.start.parallel is not None and not silent:
        assert peaks[:, k.L_STARTING].max() <= pool.start.parallel
    if pool.reset_seconds == 0:
        assert peaks[:, k.L_RESETTING].max() == 0
    if pool.hosts.surge == 0 and not pool.hosts.throwaway:
        assert peaks[:, k.L_CREATING].max() == 0 and peaks[:, k.L_SURGE].max() == 0
    told = [band for band in bands_of(setting) if band.release == "drain with notice"]
    if not told:
        assert result.forced == 0
    if not fails(setting) and all(band.notice.who != "everyone" for band in told):
        assert result.interrupted == 0


@settings(max_examples=size(60, 360))
@given(settings_of_runs(), demands())
def test_hosts_are_let_go_as_their_band_says(setting, demand):
    """Only where it releases, after their least run, no more than may drain, and never below the
    floor nor what is to be ready."""
    assume(setting.pool.kind != "dedicated")
    setting = replace(setting, drills=())
    result = simulated(setting, demand)
    lanes, pool = result.lanes, setting.pool
    causes = (Cause.EMPTY, Cause.RELEASE, Cause.DRAIN_STEP)
    gone = result.actions[np.isin(result.actions["cause"], causes)]
    due = targets_of(setting.schedule, result.horizon, {})
    for time in np.unique(gone["time"]).tolist():
        band, here = band_at(setting, time), gone[gone["time"] == time]
        stepped = here["cause"][0] == Cause.DRAIN_STEP
        assert band.release != "keep all" or (stepped and band.drain_steps)
        then = lanes[lanes["time"] <= time]
        last = [then[then["host"] == host][-1]["state"] for host in range(pool.hosts.most)]
        there = sum(state in HAD for state in last)
        least = [band.least(pool.hosts.standing)]
        least += [
            each.asks.least(pool.hosts.standing) for each in due if each.at <= time < each.until
        ]
        lid = pool.hosts.most if band.lid is None else band.lid
        assert there >= min(max(least), lid, pool.hosts.most)
        if stepped:
            continue
        drains = here[np.isin(here["action"], (Action.DRAIN, Action.NOTICE))]
        if len(drains):
            assert last.count(k.DRAINING) <= (band.draining_most or pool.hosts.most)
        for host in here["host"].tolist():
            lane = then[then["host"] == host]
            begun = lane["time"][lane["state"] == k.STARTING]
            ready = lane[lane["state"] == k.READY]["time"]
            if len(begun):
                assert time - ready[ready >= begun[-1]][0] >= 60 * band.least_run_minutes


@settings(max_examples=size(30, 180))
@given(settings_of_runs(), demands())
def test_every_action_has_a_cause_that_the_band_knows(setting, demand):
    assume(setting.pool.kind != "dedicated")
    result = simulated(setting, demand)
    asked = bool(setting.schedule.day_types[0].ready_by)
    for time, _, action, cause in result.actions.tolist():
        if cause == Cause.KNOCK:
            assert band_at(setting, time).knock and action != Action.STOP
        if cause == Cause.READY_BY:
            assert asked
        if cause == Cause.LOAD_RULE:
            assert band_at(setting, time).load_rules and action != Action.STOP
        if action == Action.NOTICE:
            assert band_at(setting, time).release == "drain with notice"
        if cause == Cause.FAILED_START:
            assert setting.pool.start.failure_share > 0.0 and action == Action.FAIL


@settings(max_examples=size(60, 360))
@given(settings_of_runs(), demands())
def test_nobody_is_signed_off_by_force_before_their_notice_is_over(setting, demand):
    """Nor on a host that has not been draining with one for so long."""
    assume(setting.pool.kind != "dedicated")
    staying_on = replace(setting.pool, idle_timeout=None, disconnected_timeout=None)
    quiet = replace(setting, pool=staying_on, drills=())
    bands = [replace(band, timeouts=None) for band in bands_of(quiet)]
    kinds = tuple(replace(each, bands=tuple(bands)) for each in quiet.schedule.day_types[:1])
    quiet = replace(quiet, schedule=replace(quiet.schedule, day_types=kinds))
    # Nobody signs off or gives up: what a host that drains loses, it loses by force.
    staying = replace(demand, leaving=np.maximum(demand.leaving, 1).astype(demand.leaving.dtype))
    result = simulated(quiet, staying)
    seen = 0
    for host in range(quiet.pool.hosts.most):
        lane = result.lanes[result.lanes["host"] == host]
        told = result.actions[
            (result.actions["host"] == host) & (result.actions["action"] == Action.NOTICE)
        ]
        before, after = lane[:-1], lane[1:]
        lost = (after["sessions"] < before["sessions"]) & (before["state"] == k.DRAINING)
        for time in after["time"][lost].tolist():
            (begun,) = told["time"][told["time"] < time][-1:]
            assert time >= begun + 60 * band_at(quiet, int(begun)).notice.minutes
            seen += 1
    assert seen == result.forced


@settings(max_examples=size(30, 180))
@given(settings_of_runs(), demands())
def test_load_rules_ask_for_no_more_than_there_can_be_and_where_they_are_at_work(setting, demand):
    assume(setting.pool.kind != "dedicated")
    result = simulated(setting, demand)
    for place, rule in enumerate(setting.schedule.load_rules):
        extra = result.loads["extra"][:, place]
        assert extra.min(initial=0) >= 0 and extra.max(initial=0) <= setting.pool.hosts.most
        grown = np.diff(extra, prepend=0)
        assert grown.max(initial=0) <= (rule.adds if rule.asks_at is not None else 0)
        for look in np.flatnonzero(extra):
            time = setting.schedule.tick_seconds * (int(look) + 1)
            assert rule.id in band_at(setting, time).load_rules
