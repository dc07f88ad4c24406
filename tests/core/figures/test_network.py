"""A display's network in two figures, by hand: the mean goes out and is billed, the busiest minute
is what a host must bear."""

from dataclasses import replace
from decimal import Decimal

import pytest

from idle_harbor.core.engine.kernel import codes as k
from idle_harbor.core.figures.footprint import footprint_of
from idle_harbor.core.plan import Display, Mbit
from tests.builders import PROFILE, SIZE, band, go, pool, schedule, simple, spells, varied

#: One screen of a megapixel: half a Mbit/s on average, four times that in the busiest minute.
SHOWN = varied(PROFILE, display=Display(1, 1.0, mbit=Mbit(0.0, 0.5, 0.0), busy_minute=4.0))
ALWAYS_ON = schedule(band(floor=1))


def worked(rows, *, most_mbit=None, profile=SHOWN):
    return go(
        rows,
        over=pool(standing=1, session_limit=2, disconnected_timeout=None),
        rules=ALWAYS_ON,
        size=replace(SIZE, network_mbit=most_mbit),
        profile=profile,
        measures_network=True,
    )


def test_egress_is_the_mean_over_working_time():
    """Two people at work for an hour: 2 × 3,600 s × 0.5 Mbit/s = 3,600 Mbit, in GiB of 8 × 2^30
    bits. Whoever is disconnected sends nothing."""
    rows = spells([(0, 0, 3600, k.DISCONNECT), (1, 5000, 8600, k.SIGN_OFF)])
    gib = footprint_of(worked(rows), 0.0).egress_gib
    assert gib == pytest.approx(3_600e6 / (8 * 2**30))
    calm = varied(PROFILE, display=replace(SHOWN.display, busy_minute=1.0))
    assert footprint_of(worked(rows, profile=calm), 0.0).egress_gib == gib


def test_a_host_must_bear_the_busiest_minute():
    """Two sessions want 4 Mbit/s in it, though they send 1 on average."""
    rows = simple([(0, 0, 3600), (1, 0, 3600)])
    assert worked(rows, most_mbit=3.99).total(k.L_STRAINED) == 2 * 3600
    assert worked(rows, most_mbit=4.0).total(k.L_STRAINED) == 0


def test_a_months_egress_from_a_plan_to_its_ledger():
    """One person at work from 9 to 17 on five days at 0.5 Mbit/s: 40 h × 3,600 s × 0.5 Mbit/s a
    week, × 365.25 / 12 / 7 a month, at 0.08 a GiB."""
    from idle_harbor.core.weeks.summary import simulate
    from tests.core.people import group, pattern
    from tests.core.plans import WORKDAYS, plan

    shown = {
        "id": "office",
        "cpu": {"mean": 0, "sd": 0, "idle": 0},
        "logon": {"seconds": 0},
        "display": {"megapixels": 1, "mbit": {"standard": 0.5}},
    }
    figures = simulate(
        plan(
            sites=[{"id": "here", "time_zone": "UTC"}],
            profiles=[shown],
            groups=[group("people", 1, [pattern(attendance=dict.fromkeys(WORKDAYS, 1.0))])],
            prices={"egress_gib": "0.08", "source": "typed"},
        ),
        "main",
        1,
    )
    (line,) = (line for line in figures.cost.lines if "egress" in line.id)
    week = 5 * 8 * 3600 * 0.5e6 / (8 * 2**30)
    month = week * 365.25 / 12 / 7
    # The logon begins at 9:00 sharp where a host is ready, some minutes later where one has to
    # start: people with a headcount leave by the clock all the same.
    assert line.quantity == pytest.approx(month, rel=0.01)
    assert line.amount == (Decimal(line.quantity) * Decimal("0.08")).quantize(Decimal("0.01"))
