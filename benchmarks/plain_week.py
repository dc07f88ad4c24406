"""A pool's week written plainly with SimPy, as a careful analyst would: a process for each person,
each host and the policy.

It is a yardstick, and a second opinion: written from docs/model.md alone, with the same spells and
draws of its own for the hosts' starts. It knows a shared pool, logons that share their host's CPU,
patience and timeouts, and a policy with floor, fill ceiling, headroom, hosts ready by a time, and
release when empty or by draining.
"""

from __future__ import annotations

import math
import random
from collections import deque
from collections.abc import Generator
from dataclasses import dataclass, field
from statistics import NormalDist
from time import perf_counter
from typing import Any

import simpy

from benchmarks.weeks import office_of
from idle_harbor.core.calendar.clock import band_edges
from idle_harbor.core.calendar.targets import targets_of
from idle_harbor.core.demand.spells import Spells, pool_spells
from idle_harbor.core.engine.kernel.codes import DISCONNECT, SIGN_OFF
from idle_harbor.core.engine.run import run
from idle_harbor.core.plan import Band
from idle_harbor.core.weeks.case import Case, case_of
from idle_harbor.formats.plan.codec import plan_of

Steps = Generator[Any, Any, None]
_FOREVER = float("inf")


def plain_case(people: int) -> Case:
    """An office of so many people, with all rules that the plain model knows."""
    values = office_of(people)
    pool, workday = values["pools"][0], values["schedules"][0]["day_types"][0]
    pool["start"] |= {"parallel": None}
    standing = pool["hosts"]["standing"]
    workday["ready_by"] = [{"at": "08:00", "hosts": standing * 3 // 10}]
    workday["bands"][0] |= {"headroom": people // 100}
    workday["bands"][1] |= {"fill_ceiling": 0.85, "release": "when empty", "headroom": people // 50}
    return case_of(plan_of(values), "office")


@dataclass(slots=True)
class Host:
    """A host, and the logons in progress on it with the work that each has left."""

    number: int
    state: str = "off"
    sessions: int = 0
    active: int = 0
    idle: int = 0
    logons: dict[int, list[Any]] = field(default_factory=dict)
    advanced: float = 0.0
    version: int = 0
    asked: float = 0.0
    powered: float = 0.0


@dataclass(frozen=True, slots=True)
class Told:
    """What came of the counted days."""

    connected: int
    refused: int
    mean_wait: float
    p95_wait: float
    host_hours: float
    mean_sessions: float


class PlainWeek:
    """One week; ``run()`` gives its figures."""

    def __init__(self, case: Case, spells: Spells, seed: int) -> None:
        self.case, self.spells = case, spells
        self.pool, self.profile = case.setting.pool, case.setting.profiles[0]
        self.vcpu = case.setting.size.vcpu
        self.env = simpy.Environment()
        self.rng = random.Random(seed)
        self.hosts = [Host(k) for k in range(self.pool.hosts.most)]
        self.line: deque[tuple[Any, float]] = deque()
        horizon = case.horizon
        self.end, self.counted = horizon.end - horizon.start, horizon.counted - horizon.start
        schedule = case.setting.schedule
        self.bands: list[tuple[int, Band]] = [
            (edge.instant - horizon.start, schedule.day_types[edge.day_type].bands[edge.band])
            for edge in band_edges(schedule, horizon)
        ]
        self.targets = [
            [each.at - horizon.start, each.until - horizon.start, each.asks.hosts, False]
            for each in targets_of(schedule, horizon, {})
        ]
        self.waits: list[float] = []
        self.refused = 0
        self.seconds_on = 0.0
        self.sampled = self.samples = 0
        variance = math.log1p(self.pool.start.cv**2)
        self.start_log = math.log(self.pool.start.mean_seconds) - variance / 2
        self.start_sd = math.sqrt(variance)

    # people ---------------------------------------------------------------------------------------

    def cpu(self, host: Host) -> float:
        """CPU wanted on a host."""
        draw = self.profile
        return (
            self.pool.load.base_vcpu
            + host.active * draw.cpu.mean
            + host.idle * draw.cpu.idle
            + len(host.logons) * draw.logon.vcpu
        )

    def advance(self, host: Host) -> None:
        """Bring logons up to now; called before anything on the host changes."""
        rate = min(1.0, self.vcpu / self.cpu(host))
        for logon in host.logons.values():
            logon[0] -= rate * (self.env.now - host.advanced)
        host.advanced = self.env.now

    def predict(self, host: Host) -> None:
        """Foresee the next logon that is done, in whole seconds."""
        host.version += 1
        if host.logons:
            rate = min(1.0, self.vcpu / self.cpu(host))
            left = max(min(logon[0] for logon in host.logons.values()), 0.0)
            self.env.process(self.finish(host, host.version, math.ceil(left / rate - 1e-6)))

    def finish(self, host: Host, version: int, delay: float) -> Steps:
        yield self.env.timeout(delay)
        if host.version != version:
            return
        self.advance(host)
        for person in [p for p, logon in host.logons.items() if logon[0] <= 1e-6]:
            host.logons.pop(person)[1].succeed()
            host.active += 1
        self.predict(host)

    def room(self) -> Host | None:
        """The host for the next person under the band in force."""
        limit = self.pool.session_limit
        free = [h for h in self.hosts if h.state == "ready" and h.sessions < limit]
        if not free:
            return None
        if self.band().rule == "fill":
            return max(free, key=lambda h: (h.sessions, -h.number))
        return min(free, key=lambda h: (h.sessions, h.number))

    def serve(self) -> None:
        """Rooms for those who wait, first come first served."""
        while self.line:
            event, _ = self.line[0]
            host = None if event.triggered else self.room()
            if host is None and not event.triggered:
                return
            self.line.popleft()
            if host is not None:
                host.sessions += 1
                event.succeed(host)

    def leave(self, host: Host) -> None:
        """A session is over."""
        host.sessions -= 1
        self.serve()

    def change(self, host: Host, active: int, idle: int) -> None:
        self.advance(host)
        host.active += active
        host.idle += idle
        self.predict(host)

    def person(self, own: list[tuple[int, int, int]]) -> Steps:
        """A person through their spells: (start, end, way of leaving)."""
        env, pool = self.env, self.pool
        host: Host | None = None
        idle = False
        for k, (start, end, leaving) in enumerate(own):
            yield env.timeout(start - env.now)
            if host is None:
                host = yield from self.logon(start, end)
                if host is None:
                    continue
            else:
                self.change(host, 0, -int(idle))
                yield env.timeout(min(pool.reconnect_seconds, end - env.now))
                self.change(host, 1, 0)
            yield env.timeout(max(end - env.now, 0))
            self.change(host, -1, 0)
            following = own[k + 1][0] if k + 1 < len(own) else _FOREVER
            gone = leaving == SIGN_OFF
            idle = not gone and leaving != DISCONNECT
            if idle:
                self.change(host, 0, 1)
                until = env.now + (pool.idle_timeout or _FOREVER)
                if following < until:
                    continue
                yield env.timeout(until - env.now)
                self.change(host, 0, -1)
                idle = False
            if not gone:
                until = env.now + (pool.disconnected_timeout or _FOREVER)
                if following < until:
                    continue
                yield env.timeout(until - env.now)
            self.leave(host)
            host = None

    def logon(self, start: int, end: int) -> Generator[Any, Any, Any]:
        """Ask for a desktop: its host, or none."""
        env = self.env
        host = self.room() if not self.line else None
        if host is not None:
            host.sessions += 1
        else:
            event = env.event()
            self.line.append((event, start))
            patience = self.pool.patience_seconds
            last = min(end, start + (_FOREVER if patience is None else patience))
            yield event | env.timeout(last - start)
            if not event.triggered:
                event.succeed(None)
                self.refused += int(start >= self.counted)
                return None
            host = event.value
        done = env.event()
        self.advance(host)
        # Who begins a logon is known by when, not by name: nobody begins two at once.
        host.logons[id(done)] = [self.profile.logon.seconds, done]
        self.predict(host)
        yield done | env.timeout(max(end - env.now, 0))
        if not done.triggered:
            self.advance(host)
            del host.logons[id(done)]
            self.predict(host)
            self.refused += int(start >= self.counted)
            self.leave(host)
            return None
        if start >= self.counted:
            self.waits.append(env.now - start)
        return host

    # hosts ----------------------------------------------------------------------------------------

    def band(self) -> Band:
        """The band in force; looks half a second late are of their second."""
        while len(self.bands) > 1 and self.bands[1][0] <= self.env.now:
            self.bands.pop(0)
        return self.bands[0][1]

    def start(self, host: Host) -> None:
        host.state, host.asked = "starting", self.env.now
        host.powered = self.env.now - 0.5
        self.env.process(self.starting(host))

    def starting(self, host: Host) -> Steps:
        draw = round(self.rng.lognormvariate(self.start_log, self.start_sd))
        yield self.env.timeout(max(draw, 1) - 0.5)
        host.state = "ready"
        self.serve()

    def stop(self, host: Host) -> None:
        host.state = "stopping"
        self.env.process(self.stopping(host))

    def stopping(self, host: Host) -> Steps:
        yield self.env.timeout(self.pool.stop_seconds - 0.5)
        host.state = "off"
        self.seconds_on += max(self.env.now - max(host.powered, self.counted), 0.0)

    # the policy -----------------------------------------------------------------------------------

    def quantile(self, share: float) -> float:
        return math.exp(self.start_log + self.start_sd * NormalDist().inv_cdf(share))

    def wanted(self, band: Band) -> int:
        waiting = sum(not event.triggered for event, _ in self.line)
        people = sum(host.sessions for host in self.hosts) + waiting
        limit = self.pool.session_limit
        by_room = math.ceil((people + band.headroom) / limit)
        by_ceiling = math.ceil(people / (limit * band.fill_ceiling) - 1e-9)
        return min(max(band.floor, by_room, by_ceiling), len(self.hosts))

    def ready_by(self, kept: int, tick: int) -> int:
        now, most = int(self.env.now), 0
        for target in self.targets:
            at, until, hosts, in_force = target
            missing = hosts - kept
            lead = self.quantile(0.95 ** (1 / missing)) if missing > 0 else 0.0
            if not in_force and now < until and at <= now + tick + lead:
                target[3] = in_force = True
            if in_force and now < until:
                most = max(most, hosts)
        return most

    def look(self, tick: int) -> None:
        band, late = self.band(), self.quantile(0.99)
        by = {
            name: [h for h in self.hosts if h.state == name]
            for name in ("off", "starting", "ready", "draining")
        }
        coming = [h for h in by["starting"] if self.env.now - h.asked <= late]
        have = len(by["ready"]) + len(coming)
        wanted = self.wanted(band)
        kept = have if band.release == "keep all" else min(have, wanted)
        wanted = max(wanted, self.ready_by(kept, tick))
        if have < wanted:
            for host in by["draining"][: wanted - have]:
                host.state = "ready"
            have += len(by["draining"][: wanted - have])
            for host in by["off"][: max(wanted - have, 0)]:
                self.start(host)
            self.serve()
        elif band.release != "keep all":
            self.let_go(band, by["ready"], have - wanted)
        for host in by["draining"]:
            if host.state == "draining" and host.sessions == 0:
                self.stop(host)

    def let_go(self, band: Band, ready: list[Host], over: int) -> None:
        limit = self.pool.session_limit
        free = sum(limit - host.sessions for host in ready)
        for host in reversed(ready):
            if over and host.sessions == 0:
                self.stop(host)
                over, free = over - 1, free - limit
        if band.release != "drain":
            return
        for host in sorted(ready, key=lambda h: (h.sessions, -h.number)):
            if not over or host.state != "ready":
                continue
            if free - (limit - host.sessions) < band.headroom:
                return
            host.state = "draining"
            over, free = over - 1, free - (limit - host.sessions)

    def policy(self, tick: int) -> Steps:
        """Looks once all else of their second is done."""
        yield self.env.timeout(tick + 0.5)
        while True:
            self.look(tick)
            yield self.env.timeout(tick)

    def run(self) -> Told:
        """The figures of the counted days."""
        first = max(self.wanted(self.band()), self.ready_by(0, 300))
        for host in self.hosts[:first]:
            host.state, host.powered = "ready", -1.0
        own: dict[int, list[tuple[int, int, int]]] = {}
        given = self.spells
        rows = zip(
            given.person.tolist(),
            given.start.tolist(),
            given.end.tolist(),
            given.leaving.tolist(),
            strict=True,
        )
        for person, *spell in rows:
            own.setdefault(person, []).append(tuple(spell))
        for each in own.values():
            self.env.process(self.person(each))
        self.env.process(self.policy(self.case.setting.schedule.tick_seconds))
        self.env.process(self.count_sessions())
        self.env.run(until=self.end)
        for host in self.hosts:
            if host.state != "off":
                self.seconds_on += self.end - max(host.powered, self.counted)
        waits = sorted([*self.waits, *[_FOREVER] * self.refused])
        return Told(
            connected=len(self.waits),
            refused=self.refused,
            mean_wait=sum(self.waits) / len(self.waits),
            p95_wait=waits[math.ceil(0.95 * len(waits)) - 1],
            host_hours=self.seconds_on / 3600,
            mean_sessions=self.sampled / self.samples,
        )

    def count_sessions(self) -> Steps:
        """Sessions, looked at every minute of the counted days."""
        yield self.env.timeout(self.counted)
        while True:
            self.sampled += sum(host.sessions for host in self.hosts)
            self.samples += 1
            yield self.env.timeout(60)


def plain_week(case: Case, seed: int) -> Told:
    """A case's week of a seed by the plain model."""
    return PlainWeek(case, pool_spells(case.demand, case.horizon, seed), seed).run()


def compare_plain_week(people: int = 2_000, runs: int = 4) -> float:
    """How many times as quick ours is on the same week, figures left out; taking turns, the best of
    each."""
    case = plain_case(people)
    ours, plain = [], []
    for seed in range(1, runs + 1):
        spells = pool_spells(case.demand, case.horizon, seed)
        begun = perf_counter()
        PlainWeek(case, spells, seed).run()
        plain.append(perf_counter() - begun)
        for _ in range(3):
            begun = perf_counter()
            run(case.setting, case.horizon, spells, seed)
            ours.append(perf_counter() - begun)
    return min(plain) / min(ours)
