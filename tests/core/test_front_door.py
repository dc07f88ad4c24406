"""The front door of the core: each name is there, and the example of the documents runs."""

import re
from operator import attrgetter
from pathlib import Path
from xml.etree import ElementTree

import pytest

from idle_harbor import core
from idle_harbor.demo.scenario import demo_plan
from idle_harbor.formats.plan.codec import plan_of, to_values
from tests.core.plans import plan as small

PAGE = Path(__file__).resolve().parents[2] / "docs" / "library.md"


def test_every_name_is_shown_and_is_there():
    assert dir(core) == sorted(core.__all__)
    assert all(getattr(core, name) for name in core.__all__)
    with pytest.raises(AttributeError, match="no attribute 'nothing'"):
        attrgetter("nothing")(core)


def test_a_plan_is_read_from_its_text_and_from_its_values_and_written():
    plan = plan_of(demo_plan())
    assert core.read(core.write(plan)) == core.read(to_values(plan)) == plan
    with pytest.raises(core.PlanError, match="not JSON"):
        core.read("{")


def test_every_verb_takes_a_plan_and_the_name_of_a_pool():
    plan = small()
    pool = plan.pools[0].id
    assert core.size(plan, pool).sizes
    with pytest.raises(core.UnknownNameError):
        core.size(plan, "gone")
    failure = core.Failure(day=0, minute=600, minutes=30, zone=None, hosts=1)
    assert core.drill(plan, pool, failure, 1).failed == 1
    assert len(core.year(plan, pool, 2027)) == 53


def test_the_example_goes_from_a_file_to_a_picture_and_a_tuned_plan(tmp_path, monkeypatch, capsys):
    [example] = re.findall(r"```python\n(.*?)```", PAGE.read_text("utf-8"), re.DOTALL)
    monkeypatch.chdir(tmp_path)
    Path("plan.json").write_text(core.write(small()))
    exec(compile(example, str(PAGE), "exec"), {})
    picture = ElementTree.parse("week.svg").getroot()
    points = picture[0].get("points") or ""
    assert len(points.split()) == 7 * 288
    tuned, before = core.read(Path("tuned.json").read_text()), small()
    costs = [core.simulate(each, before.pools[0].id).cost.month for each in (before, tuned)]
    assert costs[1] <= costs[0]
    assert f"{costs[0]} a month" in capsys.readouterr().out
