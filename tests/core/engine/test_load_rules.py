"""Load rules in small pools worked by hand: what their signals say, and what they ask for."""

from dataclasses import replace

import numpy as np
import pytest

from idle_harbor.core.engine.kernel.codes import DISCONNECT, WALK_AWAY
from idle_harbor.core.figures.load_rules import fights, load_series
from idle_harbor.core.plan import Cpu, Display, Logon, Mbit, Memory
from idle_harbor.core.plan.load_rules import LoadRule
from idle_harbor.core.plan.schedules import DrainStep
from idle_harbor.core.policy.codes import Action, Cause
from tests.builders import PROFILE, SIZE, actions, band, go, pool, schedule, simple, spells, varied

LATE = 80_000
TICK = 300
READY = pool(standing=2, session_limit=4, idle_timeout=None, disconnected_timeout=None)


def ruled(*rules, bands=None, tick=TICK):
    """A schedule whose bands all have these load rules, if nothing else is said."""
    names = tuple(rule.id for rule in rules)
    bands = bands or (band(floor=2, load_rules=names),)
    return replace(schedule(*bands, tick=tick), load_rules=rules)


def rule(signal="people at work", asks_at=1.5, name="r", **changes):
    given = {"asks_hold_minutes": 0, "permits_hold_minutes": 0, "pause_minutes": 0} | changes
    return LoadRule(name, signal, asks_at, **given)


def said(signal, given, over=READY, looks=1, bands=None, **more):
    """What a signal says at the first looks."""
    result = go(given, over=over, rules=ruled(rule(signal, 1e6), bands=bands), **more)
    return result.loads["value"][:looks, 0].tolist()


#: One person from the start, another from half of the first five minutes on.
TWO = simple([(0, 0, LATE), (1, 150, LATE)])


class TestSignals:
    @pytest.mark.parametrize(
        ("signal", "values"),
        [
            ("people at work", [1.5, 2.0]),
            ("sessions per host", [0.75, 1.0]),
            ("slots in use", [1.5 / 8, 0.25]),
            ("free slots", [6.5, 6.0]),
            ("people waiting", [0.0, 0.0]),
            ("hosts draining", [0.0, 0.0]),
            ("idle sessions", [0.0, 0.0]),
        ],
    )
    def test_a_mean_over_the_time_since_the_last_look(self, signal, values):
        assert said(signal, TWO, looks=2) == pytest.approx(values)

    def test_network_where_nothing_else_asks_for_it(self):
        # Two people at work at 0.5 Mbit/s each, on hosts without a limit, and no price for what
        # goes out: the rule asks for a host at the second look.
        shown = varied(PROFILE, display=Display(1, 1.0, mbit=Mbit(0.0, 0.5, 0.0)))
        rules = ruled(rule("network", 0.8), bands=(band(floor=1, load_rules=("r",)),))
        result = go(TWO, over=READY, rules=rules, profile=shown)
        assert result.loads["value"][:2, 0].tolist() == pytest.approx([0.75, 1.0])
        assert actions(result)[0] == (600, 1, Action.START, Cause.LOAD_RULE)

    def test_cpu_and_memory_are_wanted_of_what_ready_hosts_have(self):
        # 1 + 0.1 vCPU and 2 + 0.5 GiB of one host, 1 and 2 of the other; both have 8 and 32.
        profile = varied(PROFILE, memory_gib=Memory(0.5, 0.0, 0.0))
        over = varied(READY, base_vcpu=1.0, base_gib=2.0)
        one = simple([(0, 0, LATE)])
        assert said("cpu", one, over, profile=profile) == pytest.approx([2.1 / 16])
        assert said("memory", one, over, profile=profile) == pytest.approx([4.5 / 64])

    def test_hosts_count_from_when_they_are_ready(self):
        # The second host starts at the first look, for 120 s, and is ready for 180 of the next 300.
        over = varied(READY, base_vcpu=1.0, session_limit=1)
        bands = (band(floor=1, load_rules=("r",)),)
        assert said("cpu", TWO, over, looks=2, bands=bands) == pytest.approx(
            [1.1 / 8, (1.1 * 300 + 1.0 * 180 + 0.1 * 180) / (8 * 480)]
        )
        assert said("sessions per host", TWO, over, looks=2, bands=bands) == pytest.approx(
            [1.0, (300 + 180) / 480]
        )

    def test_a_host_that_drains_counts_no_more(self):
        # At the second look the second host drains with its one person: the first has room for it.
        bands = (
            band(floor=2, load_rules=("r",)),
            band(start=600, floor=0, release="drain", load_rules=("r",)),
        )
        given = simple([(0, 0, LATE), (1, 10, 700), (2, 20, LATE)])
        over = varied(READY, base_vcpu=1.0)
        values = said("cpu", given, over, looks=3, bands=bands)
        assert values[1:] == pytest.approx([2.3 / 16, 1.2 / 8])
        assert said("hosts draining", given, over, looks=3, bands=bands) == [0.0, 0.0, 1.0]
        assert said("slots in use", given, over, looks=3, bands=bands)[2] == 0.5

    def test_logons_that_were_done_on_average_and_none_where_none_was(self):
        # Two at once of 100 s each, on one host of 1 vCPU that each of them wants whole: 200 s.
        profile = varied(PROFILE, cpu=Cpu(0.0, 0.0, 0.0), logon=Logon(100.0, 1.0))
        size = replace(SIZE, vcpu=1.0)
        given = simple([(0, 0, LATE), (1, 0, LATE), (2, 400, LATE)])
        one = (band(floor=1, load_rules=("r",)),)
        over = varied(READY, standing=1)
        values = said("logon time", given, over, looks=3, bands=one, size=size, profile=profile)
        assert values[:2] == [200.0, 100.0]
        assert np.isnan(values[2])

    def test_work_on_strained_hosts_as_a_share(self):
        # Two on the first host want 9.8 of 8 vCPU, one on the second 4.9.
        profile = varied(PROFILE, cpu=Cpu(4.9, 0.0, 0.0))
        given = simple([(0, 0, LATE), (1, 0, LATE), (2, 0, LATE)])
        assert said("strained work", given, profile=profile) == pytest.approx([2 / 3])

    def test_people_waiting_and_sessions_that_were_left(self):
        over = varied(READY, standing=1, session_limit=1)
        one = (band(floor=1, load_rules=("r",)),)
        assert said("people waiting", TWO, over, bands=one) == [0.5]
        left = spells([(0, 0, 100, DISCONNECT), (1, 0, 200, WALK_AWAY)])
        assert said("disconnected sessions", left) == pytest.approx([200 / 300])
        assert said("idle sessions", left) == pytest.approx([100 / 300])

    def test_nothing_is_said_of_hosts_that_are_not_ready(self):
        off = (band(floor=0, load_rules=("r",)),)
        for signal in ("cpu", "memory", "slots in use", "free slots", "sessions per host"):
            assert np.isnan(said(signal, simple([(0, 70_000, LATE)]), bands=off)).all()
        assert said("people at work", simple([(0, 70_000, LATE)]), bands=off) == [0.0]


def extras(result, until=10):
    return result.loads["extra"][:until, 0].tolist()


#: Two people from 700 to 2,500: signals past 1.5 at the looks of 1,200 to 2,400 (900 says 1.33).
BUSY = simple([(0, 700, 2_500), (1, 700, 2_500)])
MANY = varied(READY, standing=8)


class TestWhatTheyAskFor:
    def go(self, *rules, given=BUSY, over=MANY, **more):
        return go(given, over=over, rules=ruled(*rules, **more))

    def test_it_grows_at_each_look_past_the_mark(self):
        result = self.go(rule())
        assert extras(result) == [0, 0, 0, 1, 2, 3, 4, 5, 5, 5]
        assert actions(result)[0] == (1_200, 2, Action.START, Cause.LOAD_RULE)
        assert [host for _, host, _, _ in actions(result)] == [2, 3, 4, 5, 6]

    def test_only_after_its_hold(self):
        assert extras(self.go(rule(asks_hold_minutes=10))) == [0, 0, 0, 0, 0, 1, 2, 3, 3, 3]

    def test_and_with_a_pause_between(self):
        assert extras(self.go(rule(pause_minutes=10))) == [0, 0, 0, 1, 1, 2, 2, 3, 3, 3]

    def test_no_further_than_there_are_hosts(self):
        result = self.go(rule(adds=5))
        assert extras(result) == [0, 0, 0, 5, 8, 8, 8, 8, 8, 8]

    def test_it_takes_back_past_the_other_mark(self):
        # 2,700 says 0.67, 3,000 nobody; every second look for the pause.
        back = rule(permits_at=0.5, takes_back=2, pause_minutes=10)
        assert extras(self.go(back), 14) == [0, 0, 0, 1, 1, 2, 2, 3, 3, 1, 1, 0, 0, 0]

    def test_and_that_only_after_its_hold(self):
        back = rule(permits_at=0.5, takes_back=9, permits_hold_minutes=10)
        assert extras(self.go(back), 13) == [0, 0, 0, 1, 2, 3, 4, 5, 5, 5, 5, 0, 0]

    def test_without_the_other_mark_it_begins_anew_with_a_band(self):
        bands = (band(floor=2, load_rules=("r",)), band(start=3_000, floor=2, load_rules=("r",)))
        assert extras(self.go(rule(), bands=bands)) == [0, 0, 0, 1, 2, 3, 4, 5, 5, 0]

    def test_a_drain_step_is_no_new_band(self):
        steps = (DrainStep(3_000, 0.1),)
        bands = (band(floor=2, load_rules=("r",), drain_steps=steps),)
        assert extras(self.go(rule(), bands=bands)) == [0, 0, 0, 1, 2, 3, 4, 5, 5, 5]

    def test_hosts_go_when_it_asks_for_no_more(self):
        bands = (
            band(floor=2, release="when empty", load_rules=("r",)),
            band(start=3_000, floor=2, release="when empty"),
        )
        stops = [a for a in actions(self.go(rule(), bands=bands)) if a[2] == Action.STOP]
        assert stops == [(3_000, host, Action.STOP, Cause.EMPTY) for host in (6, 5, 4, 3, 2)]

    def test_a_rule_that_only_permits_keeps_hosts_until_it_does(self):
        # Three hosts for two people; one may go when fewer than 1.5 work: at 900, not at 1,200.
        keeps = rule(asks_at=None, permits_at=1.5)
        bands = (band(floor=8), band(start=1_200, floor=2, release="when empty", load_rules=("r",)))
        stops = [a[0] for a in actions(self.go(keeps, bands=bands)) if a[2] == Action.STOP]
        assert set(stops) == {2_700}

    def test_few_free_slots_ask(self):
        # Two hosts of one slot are full from 700 on: 0.67 free at 900, none at 1,200. Two more are
        # ready at 1,320: 1.2 free at 1,500, two from then on.
        few = rule("free slots", 0.5, permits_at=1.5, adds=2)
        result = self.go(few, over=varied(MANY, session_limit=1))
        assert extras(result, 7) == [0, 0, 0, 2, 2, 1, 0]

    def test_a_dedicated_pool_knows_none(self):
        over = varied(MANY, kind="dedicated", session_limit=1)
        result = self.go(rule(), over=over)
        assert result.loads.size == 0


class TestFights:
    UP = rule(name="up", asks_at=1.5)

    def run(self, given, *rules):
        return go(given, over=MANY, rules=ruled(*rules))

    def test_one_grows_while_another_shrinks(self):
        # A host that the second rule asks for at 1,200 is ready at 1,320: then there is less than
        # 0.8 of a session a host, and it takes it back; the first goes on asking until 2,400.
        thin = rule("sessions per host", 0.9, name="thin", permits_at=0.8)
        loads = self.run(BUSY, self.UP, thin).loads
        assert loads["change"][:6, 1].tolist() == [0, 0, 0, 1, -1, 0]
        (fight,) = fights(loads, TICK)
        assert (fight.grows, fight.shrinks) == (0, 1)
        assert fight.times == (1_200, 1_500, 1_800, 2_100, 2_400)

    def test_within_half_an_hour_and_told_when(self):
        loads = np.zeros((20, 2), dtype=[("value", "f8"), ("extra", "i4"), ("change", "i4")])
        loads["change"][4, 0] = loads["change"][17, 0] = 1  # grows at 1,500 and 5,400
        loads["change"][10, 1] = -1  # shrinks at 3,300
        (fight,) = fights(loads, TICK)
        assert (fight.grows, fight.shrinks, fight.times) == (0, 1, (1_500,))
        assert fights(loads, TICK, begin=1_800) == []

    def test_the_series_has_the_looks_between_two_seconds(self):
        result = self.run(BUSY, self.UP)
        (series,) = load_series(result.loads, TICK, 900, 1_800)
        assert series.times.tolist() == [900, 1_200, 1_500]
        assert series.values == pytest.approx([2 * 200 / 300, 2.0, 2.0])
        assert series.extras.tolist() == [0, 1, 2]
