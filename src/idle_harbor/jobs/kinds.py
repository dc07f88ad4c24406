"""Every kind of long work, by its name."""

from __future__ import annotations

from idle_harbor.jobs.files import IMPORT
from idle_harbor.jobs.kind import Kind
from idle_harbor.jobs.simulated import SIMULATED
from idle_harbor.jobs.studies import STUDY

KINDS: dict[str, Kind] = {kind.name: kind for kind in (*SIMULATED, STUDY, IMPORT)}
