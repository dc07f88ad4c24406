"""Small pools, schedules and spells for tests, fields out of the way."""

from collections.abc import Sequence
from dataclasses import fields, is_dataclass, replace
from datetime import date
from decimal import Decimal
from typing import Any

import numpy as np

from idle_harbor.core.calendar.clock import Horizon
from idle_harbor.core.demand.spells import Spells, sorted_spells
from idle_harbor.core.engine.kernel.codes import HOST_STATE_NAMES, SIGN_OFF
from idle_harbor.core.engine.run import Run, run
from idle_harbor.core.engine.setting import Setting
from idle_harbor.core.plan import (
    Band,
    Cpu,
    DayType,
    Hosts,
    Load,
    Logon,
    Memory,
    Pool,
    Profile,
    Schedule,
    Size,
    Starting,
)

DAY = 86_400

PROFILE = Profile("light", Cpu(0.1, 0.0, 0.0), Memory(0.0, 0.0, 0.0), Logon(0.0, 0.0))
SIZE = Size("s", 8.0, 32.0, Decimal("1.00"), "typed", 1, 0)
POOL = Pool(
    id="p", time_zone="UTC", size="s", schedule="x", hosts=Hosts(2), session_limit=2,
    start=Starting(120.0, 0.0), stop_seconds=60, patience_seconds=None, idle_timeout=600,
    disconnected_timeout=1200, reconnect_seconds=0, load=Load(1.0, 0.05, 0.0, 0.0),
)  # fmt: skip
BAND = Band(start=0, floor=2, fill_ceiling=1.0, headroom=0, rule="spread", release="keep all")


def varied(thing: Any, **changes: Any) -> Any:
    """A part of a plan with changes, those of its parts named by field, or by part and field:
    ``standing`` is ``hosts.standing``, ``start_cv`` is ``start.cv``."""
    for name, value in changes.items():
        if name in {field.name for field in fields(thing)}:
            thing = replace(thing, **{name: value})
            continue
        ((part, field),) = {
            (part.name, field.name)
            for part in fields(thing)
            if is_dataclass(getattr(thing, part.name))
            for field in fields(getattr(thing, part.name))
            if name in (field.name, f"{part.name}_{field.name}")
        }
        thing = replace(thing, **{part: replace(getattr(thing, part), **{field: value})})
    return thing


def pool(**changes: Any) -> Pool:
    changed: Pool = varied(POOL, **changes)
    return changed


def band(**changes: Any) -> Band:
    return replace(BAND, **changes)


def schedule(*bands: Band, tick: int = 300) -> Schedule:
    return Schedule("x", (DayType("every-day", tuple(range(7)), bands or (BAND,)),), tick)


def horizon(seconds: int = DAY, *, warm_days: int = 0) -> Horizon:
    """A horizon in UTC; for hand-worked cases it need not be whole days."""
    return Horizon("UTC", date(1970, 1, 1), warm_days, 1, 0, warm_days * DAY, seconds)


def spells(rows: Sequence[tuple[int, int, int, int]], *, from_connection: bool = False) -> Spells:
    """Spells from rows of (person, start, end, leaving)."""
    table = np.array(rows, dtype=np.int64).reshape(-1, 4)
    nothing = np.zeros(len(table), dtype=np.int64)
    person, start, end, leaving = table.T
    people = int(person.max(initial=-1)) + 1
    connected = nothing + from_connection
    return sorted_spells(person, start, end, connected, leaving, nothing, nothing, people=people)


def simple(rows: Sequence[tuple[int, int, int]]) -> Spells:
    """Spells from rows of (person, start, end), all signing off."""
    return spells([(*row, SIGN_OFF) for row in rows])


def go(
    given: Spells,
    *bands: Band,
    over: Pool = POOL,
    rules: Schedule | None = None,
    size: Size = SIZE,
    profile: Profile = PROFILE,
    seconds: int = DAY,
    seed: int = 1,
    warm_days: int = 0,
    **more: Any,
) -> Run:
    """One recorded run; ``more`` are further fields of the setting, else of the pool."""
    known = {field.name for field in fields(Setting)}
    rest = {name: more.pop(name) for name in more.keys() - known}
    rules = rules or schedule(*bands)
    setting = Setting(varied(over, **rest), rules, size, (profile,), **more)
    return run(setting, horizon(seconds, warm_days=warm_days), given, seed, record=True)


def states(result: Run, host: int) -> list[tuple[int, str]]:
    """(time, state) of a host at each change of its state."""
    lane = result.lanes[result.lanes["host"] == host]
    found: list[tuple[int, str]] = []
    for row in lane:
        name = HOST_STATE_NAMES[row["state"]]
        if found and found[-1][0] == row["time"]:
            found.pop()
        if not found or found[-1][1] != name:
            found.append((int(row["time"]), name))
    return found


def story(result: Run, host: int) -> str:
    """The same as text: "0 off, 1_000 starting"."""
    return ", ".join(f"{time:_} {state}" for time, state in states(result, host))


def outcomes(result: Run) -> list[tuple[int, int]]:
    """(outcome, wait) of each spell in order."""
    return [(int(r["outcome"]), int(r["wait"])) for r in result.results]


def actions(result: Run) -> list[tuple[int, int, int, int]]:
    """(time, host, action, cause) of every action after the horizon's start."""
    return [tuple(map(int, row)) for row in result.actions.tolist() if row[3] != 0]  # type: ignore[misc]
