"""Classes of users fill a workload profile, and are told as long as nothing of it is changed."""

from dataclasses import replace

import pytest

from idle_harbor.core.errors import UnknownNameError
from idle_harbor.core.plan import Measured, Profile
from idle_harbor.core.plan.classes import CLASSES, as_class, class_of
from idle_harbor.core.plan.edits import changed
from idle_harbor.core.plan.edits.profiles import SetClass
from tests.core.plans import plan


@pytest.mark.parametrize("user", CLASSES)
def test_a_filled_profile_is_of_its_class_until_it_is_changed(user):
    kept = Profile("office", name="Büro", disk_ops=12.0, measured=Measured(20))
    filled = as_class(kept, user)
    assert class_of(filled) == user and class_of(kept) is None
    assert (filled.name, filled.disk_ops, filled.measured) == ("Büro", 12.0, None)
    assert class_of(replace(filled, cpu=replace(filled.cpu, mean=0.5))) is None


def test_heavier_users_draw_more_of_everything():
    light, normal, heavy = (CLASSES[user] for user in ("light", "normal", "heavy"))
    for less, more in ((light, normal), (normal, heavy)):
        assert less.cpu.mean < more.cpu.mean and less.cpu.idle < more.cpu.idle
        assert less.memory_gib.active < more.memory_gib.active
        assert less.logon.seconds < more.logon.seconds and less.logon.vcpu < more.logon.vcpu
    # So many at once want 85 % of one vCPU, as the module says.
    assert [int(0.85 / each.cpu.mean) for each in (light, normal, heavy)] == [5, 2, 1]


def test_the_edit_fills_one_profile_and_names_one_that_is_not_there():
    before = plan(profiles=[{"id": "office"}, {"id": "other"}])
    after = changed(before, SetClass("set-class", "office", "heavy"))
    assert [class_of(each) for each in after.profiles] == ["heavy", "normal"]
    with pytest.raises(UnknownNameError, match="nobody"):
        changed(before, SetClass("set-class", "nobody", "light"))
