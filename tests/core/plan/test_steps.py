"""How far an arrow key moves a field, and which hold whole numbers only."""

import pytest

from idle_harbor.core.plan.table import by_path, plan_fields


@pytest.mark.parametrize(
    ("path", "whole", "step"),
    [
        ("groups.demand.people", True, 1),
        ("events.when.from", True, 1),
        ("pools.idle_timeout", True, 1),
        ("groups.demand.session.cv", False, 0.1),
        ("schedules.day_types.bands.fill_ceiling", False, 0.01),
        ("schedules.day_types.bands.exceptions.floor", True, 1),
        ("promise.refused_share", False, 0.001),
        ("profiles.cpu.mean", False, 0.05),
        ("sizes.memory_gib", False, 1),
        ("sizes.hourly", None, None),
        ("schedules.day_types.bands.from", None, None),
    ],
)
def test_the_step_of_a_field(path, whole, step):
    field = by_path()[path]
    assert (field.whole, field.step) == (whole, step)


def test_a_field_with_bounds_takes_several_steps_to_cross_them():
    for field in plan_fields():
        if field.step is None or field.about.low is None or field.about.high is None:
            continue
        steps = (field.about.high - field.about.low) / field.step
        assert steps >= 9, field.path
