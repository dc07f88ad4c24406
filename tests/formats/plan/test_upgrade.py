"""Documents of older formats are read as today's: nothing is lost, the figures are the same."""

import pytest

from idle_harbor.core.errors import PlanError
from idle_harbor.core.plan import FORMAT
from idle_harbor.core.weeks.summary import simulate
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
    assert written["format"] == FORMAT and "entitlements" not in written
    assert not any("attached" in pool for pool in written["pools"])


@pytest.mark.parametrize("written", [1, 2])
def test_until_format_3_one_figure_was_the_displays_network(written):
    """Two screens of 2 megapixels at 0.8 Mbit/s each, in every minute: 3.2 Mbit/s."""
    profile = {"id": "office", "display": {"monitors": 2, "megapixels": 2}}
    spelled = {**profile, "display": {**profile["display"], "mbit": {"standard": 0.5}}}
    said = {"format": written, "name": "old", "week_of": "2027-03-01"}
    shown = [
        p.display
        for p in read_plan(
            {**said, "profiles": [profile, {**spelled, "id": "b"}, {"id": "c"}]}
        ).profiles
    ]
    assert [round(d.network_mbit, 9) for d in shown] == [3.2, 2.0, 1.68]
    assert [d.busy_mbit for d in shown] == [d.network_mbit for d in shown]
    assert (shown[0].mbit.lean, shown[0].mbit.fine) == (0.4, 2.0)


def test_old_names_in_todays_format_are_faults():
    whole = {**as_format_1(demo_plan()), "format": FORMAT}
    with pytest.raises(PlanError) as caught:
        read_plan(whole)
    assert {"/entitlements", "/pools/0/attached"} & {f.pointer for f in caught.value.faults}


@pytest.mark.parametrize(
    "text",
    ['{"format": 99}', '{"format": "1"}', '{"format": [1]}', '{"format": null}', '{"format": {}}'],
)
def test_other_formats_are_refused(text):
    with pytest.raises(PlanError, match="is not known here"):
        parse_plan(text)


@pytest.mark.parametrize(
    "odd",
    [None, 3, [], "plan", {"pools": 3}, {"pools": [1, None, {}]}, {"format": 1, "entitlements": 4}],
)
def test_what_is_no_document_comes_back(odd):
    before = repr(odd)
    upgraded(odd)
    assert repr(odd) == before
