"""Every kind of long work by its name."""

from __future__ import annotations

from idle_harbor.jobs.kind import Kind
from idle_harbor.jobs.kinds.checks import CHECKS
from idle_harbor.jobs.kinds.crowd import CROWD
from idle_harbor.jobs.kinds.desktops import DESKTOPS
from idle_harbor.jobs.kinds.directory import IMPORT
from idle_harbor.jobs.kinds.pools import POOLS
from idle_harbor.jobs.kinds.study import STUDY
from idle_harbor.jobs.kinds.weeks import RANGE
from idle_harbor.jobs.kinds.year import YEAR

_QUESTIONS = (YEAR, RANGE, POOLS, CHECKS, DESKTOPS, CROWD)
#: What workers can do, by its name.
KINDS: dict[str, Kind] = {
    kind.name: kind for kind in (*(each.kind() for each in _QUESTIONS), STUDY, IMPORT)
}
