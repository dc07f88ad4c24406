"""Documents of format 1 are read as today's: nothing is lost, and the figures are the same."""

from __future__ import annotations

import pytest

from idle_harbor.core.errors import PlanError
from idle_harbor.core.summary import simulate
from idle_harbor.demo.scenario import demo_plan
from idle_harbor.formats.plan.codec import parse_plan, plan_of, read_plan, to_values
from idle_harbor.formats.plan.upgrade import upgraded


def as_format_1(whole):
    """The document as it was written before access and apps added at logon had these names."""
    old = {**whole, "format": 1, "entitlements": whole["access"]}
    del old["access"]
    old["pools"] = [
        {("attached" if name == "apps_at_logon" else name): value for name, value in pool.items()}
        for pool in whole["pools"]
    ]
    return old


def test_the_demo_in_format_1_is_the_same_plan_with_the_same_figures():
    today, old = plan_of(demo_plan()), plan_of(as_format_1(to_values(plan_of(demo_plan()))))
    assert old == today
    assert any(pool.apps_at_logon for pool in old.pools) and old.access
    assert simulate(old, "field", 2) == simulate(today, "field", 2)


def test_a_document_that_does_not_say_its_format_may_have_either_names():
    old = as_format_1(demo_plan())
    del old["format"]
    assert read_plan(old) == read_plan(demo_plan())


def test_what_is_read_is_written_in_todays_format():
    written = to_values(read_plan(as_format_1(demo_plan())))
    assert written["format"] == 2 and "entitlements" not in written
    assert not any("attached" in pool for pool in written["pools"])


def test_old_names_in_todays_format_are_faults():
    whole = {**as_format_1(demo_plan()), "format": 2}
    with pytest.raises(PlanError) as caught:
        read_plan(whole)
    assert {"/entitlements", "/pools/0/attached"} & {f.pointer for f in caught.value.faults}


@pytest.mark.parametrize("text", [
    '{"format": 3}', '{"format": "1"}', '{"format": [1]}', '{"format": null}', '{"format": {}}',
])  # fmt: skip
def test_other_formats_are_refused(text):
    with pytest.raises(PlanError, match="is not known here"):
        parse_plan(text)


@pytest.mark.parametrize("odd", [None, 3, [], "plan", {"pools": 3}, {"pools": [1, None, {}]},
                                 {"format": 1, "entitlements": 4}])  # fmt: skip
def test_what_is_no_document_comes_back(odd):
    before = repr(odd)
    upgraded(odd)
    assert repr(odd) == before
