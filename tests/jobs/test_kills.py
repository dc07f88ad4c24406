"""Workers, web server and database are killed while long work goes on, each and all at once."""

from benchmarks.kills import kill
from tests.sizes import size


def test_nothing_that_was_finished_is_lost_and_nothing_is_stuck():
    times = size(4, 40)
    found = kill(times, seed=3, weeks=size(12, 40))
    assert (found.lost, found.stuck, found.wrong) == (0, 0, 0), found
    assert found.jobs >= 4 and sum(found.killed.values()) == times
