"""What is said where a tuned pool leaves a schedule that it shares."""

from dataclasses import replace

from idle_harbor.core.sentences.sharing import leaves_shared
from idle_harbor.core.tuner.designs.design import design_of, in_plan
from tests.core.plans import document, plan


def shared(own=False):
    whole = document()
    pool = whole["pools"][0]
    whole["pools"] = [pool, {**pool, "id": "other"}]
    if own:
        band = whole["schedules"][0]["day_types"][0]["bands"][1]
        band["exceptions"] = [{"pool": "main", "floor": 3}, {"pool": "other", "floor": 2}]
    return plan(**whole)


def changed(whole):
    design = design_of(whole, "main")
    kind = design.schedule.day_types[0]
    bands = (replace(kind.bands[0], floor=1), *kind.bands[1:])
    kinds = (replace(kind, bands=bands), *design.schedule.day_types[1:])
    return replace(design, schedule=replace(design.schedule, day_types=kinds))


def test_it_is_said_who_stays_and_what_goes():
    whole = shared()
    design = changed(whole)
    assert leaves_shared(whole, design) == (
        "Main leaves the schedule 'Main' and gets its own, 'Main for Main'; Other keeps it as it "
        "is."
    )
    assert leaves_shared(shared(own=True), changed(shared(own=True))).endswith(
        "What Main has of its own in it goes."
    )


def test_pools_that_are_tuned_together_leave_together():
    whole = shared()
    third = replace(whole.pools[0], id="third")
    whole = replace(whole, pools=(*whole.pools, third))
    found = leaves_shared(whole, replace(changed(whole), together=("other",)))
    assert found.startswith("Main and Other leave the schedule") and "Third keeps it" in found
    # Where all of them go together, the schedule itself changes.
    assert leaves_shared(shared(), replace(changed(shared()), together=("other",))) == ""


def test_exceptions_of_the_pool_that_leaves_go_and_others_stay():
    whole = shared(own=True)
    after = in_plan(whole, changed(whole))
    left = next(each for each in after.schedules if each.id == whole.pools[0].schedule)
    (exception,) = left.day_types[0].bands[1].exceptions
    assert exception.pool == "other"
    assert design_of(after, "other").schedule == design_of(whole, "other").schedule


def test_nothing_is_said_where_the_schedule_stays():
    whole = plan()
    assert leaves_shared(whole, changed(whole)) == ""
    same = shared()
    assert leaves_shared(same, design_of(same, "main")) == ""
