"""What a process reads before it goes on as another user, who may not read it any more."""

from __future__ import annotations

import codecs
from importlib import import_module
from importlib.util import find_spec
from pathlib import Path
from zoneinfo import TZPATH, ZoneInfo, available_timezones

from idle_harbor.processes import may_read
from idle_harbor.runtime import engine_version

#: Kept so that zones which were read once need not be read again.
_zones: list[ZoneInfo] = []


#: What is read only once somebody asks for what needs it: of Python's own library, and of ours.
_LATER = (
    "email.policy",
    "idle_harbor.formats.plan.building",
    "idle_harbor.jobs.asking",
    "idle_harbor.jobs.queue",
    "psycopg_pool",
    "pydantic.dataclasses",
)
_CODECS = ("idna", "latin-1", "utf-8-sig", "utf-16", "utf-32", "ascii")


def read_ahead(user: str, *modules: str) -> None:
    """Read what would be read at some later time, and that user may not read by then; ``modules``
    are some that this process needs besides."""
    from idle_harbor.core.base.compiled import entries_ready
    from idle_harbor.core.calendar.occasions import (
        countries,
        holiday_calendar,
        regions_of,
    )
    from idle_harbor.formats.directory.scim_people import scim_models
    from idle_harbor.formats.plan.reader import plan_reader

    if not may_read(user, _folders("tzdata") + [p for p in map(Path, TZPATH) if p.is_dir()]):
        _zones.extend(ZoneInfo(name) for name in available_timezones())
    if not may_read(user, _folders("scim2_models", "email_validator", "lark")):
        scim_models()
    if not may_read(user, _folders("holidays")):
        for country, regions in countries().items():
            regions_of(country)
            for region in (None, *regions):
                holiday_calendar(country, region)
    # What version this is is a hash of what it is made of.
    engine_version()
    plan_reader()
    for name in (*_LATER, *modules):
        import_module(name)
    entries_ready()
    for name in _CODECS:
        codecs.lookup(name)


def _folders(*packages: str) -> list[Path]:
    found = map(find_spec, packages)
    return [Path(each.origin).parent for each in found if each and each.origin]
