"""The one place that turns local time into seconds; ``walls`` does it for arrays.

Inside the core an instant is an integer number of seconds since the Unix epoch in UTC; the
engine counts from the start of its horizon. A local time that a clock change skips means the
first instant after the gap; one that occurs twice means the first.
"""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, datetime, timedelta
from decimal import Decimal
from functools import lru_cache
from zoneinfo import ZoneInfo, ZoneInfoNotFoundError

from idle_harbor.core.plan import Pool, Schedule

EPOCH = date(1970, 1, 1)
DAY = 86_400
#: Days of a typical month.
MONTH_DAYS = Decimal("365.25") / 12
HOUR = 3_600
#: The longest horizon: a leap year.
MOST_DAYS = 366
#: People whose pattern reaches across midnight need the day before and the day after.
_MARGIN_DAYS = 3
#: Seconds beyond any instant that matters here.
FAR_AWAY = 2**61


def zone_exists(name: str) -> bool:
    """Whether ``name`` is an IANA time zone known here."""
    try:
        ZoneInfo(name)
    except (ZoneInfoNotFoundError, ValueError, OSError):
        return False
    return True


def _offset(zone: ZoneInfo, instant: int) -> int:
    shift = datetime.fromtimestamp(instant, tz=zone).utcoffset()
    assert shift is not None
    return int(shift.total_seconds())


def _bisect_transition(zone: ZoneInfo, low: int, high: int) -> int:
    """First instant in (low, high] whose offset differs from that of ``low``."""
    before = _offset(zone, low)
    while high - low > 1:
        middle = (low + high) // 2
        if _offset(zone, middle) == before:
            low = middle
        else:
            high = middle
    return high


@lru_cache(maxsize=4096)
def transitions(zone_name: str, day: date) -> tuple[tuple[int, ...], tuple[int, ...]]:
    """Clock changes near a local date.

    Returns the instants of the changes from three days before to four days after the date, and
    the UTC offsets (seconds) in force before the first, between, and after the last of them.
    """
    zone = ZoneInfo(zone_name)
    midnight = (day - EPOCH).days * DAY
    instant = midnight - _MARGIN_DAYS * DAY
    last = midnight + (_MARGIN_DAYS + 1) * DAY
    changes: list[int] = []
    offsets = [_offset(zone, instant)]
    while instant < last:
        following = min(instant + 6 * HOUR, last)
        if _offset(zone, following) != offsets[-1]:
            change = _bisect_transition(zone, instant, following)
            changes.append(change)
            offsets.append(_offset(zone, change))
            instant = change
        else:
            instant = following
    return tuple(changes), tuple(offsets)


@lru_cache(maxsize=4096)
def wall_rows(zone_name: str, day: date) -> tuple[tuple[int, int, int], ...]:
    """How wall seconds of a date (from its 00:00) become instants, piece by piece.

    Rows of (from which wall second, seconds to take off, earliest instant): the instant of a wall
    time is max(wall - off, earliest) by the last row whose "from" it has reached.
    """
    changes, offsets = transitions(zone_name, day)
    midnight = (day - EPOCH).days * DAY
    rows = [(-FAR_AWAY, offsets[0] - midnight, -FAR_AWAY)]
    for change, before, after in zip(changes, offsets[:-1], offsets[1:], strict=True):
        rows.append((change + before - midnight, after - midnight, change))
    return tuple(rows)


@lru_cache(maxsize=65_536)
def local_to_instant(zone_name: str, day: date, seconds: int) -> int:
    """The instant of a local clock time, given as seconds from the date's 00:00 on the wall.

    ``seconds`` may be negative or pass 86,400 by up to a day; a skipped time gives the first
    instant after the gap, a doubled time the first of the two (PEP 495 names them gap and fold).
    """
    _, off, earliest = [row for row in wall_rows(zone_name, day) if row[0] <= seconds][-1]
    return max(seconds - off, earliest)


def clock_change(zone_name: str, day: date) -> int:
    """Seconds by which a local date is longer than 24 hours (negative where it is shorter)."""
    begin = local_to_instant(zone_name, day, 0)
    return local_to_instant(zone_name, day + timedelta(days=1), 0) - begin - DAY


def local_datetime(zone_name: str, instant: int) -> datetime:
    """The wall clock of a zone at an instant."""
    return datetime.fromtimestamp(instant, tz=ZoneInfo(zone_name))


def week_start(day: date) -> date:
    """The Monday of the week that holds ``day``."""
    return day - timedelta(days=day.weekday())


@dataclass(frozen=True, slots=True)
class Horizon:
    """Whole local days in one zone: ``warm_days`` uncounted ones, then ``days`` counted ones.

    ``start``, ``counted`` and ``end`` are instants (seconds since the epoch, UTC). A day begins so
    many seconds (``begins``) after 00:00 of its date.
    """

    time_zone: str
    first_day: date
    warm_days: int
    days: int
    start: int
    counted: int
    end: int
    begins: int = 0

    @property
    def dates(self) -> tuple[date, ...]:
        """Every local date of the horizon, warm-up first."""
        return tuple(self.first_day + timedelta(days=k) for k in range(self.warm_days + self.days))

    @property
    def counted_dates(self) -> tuple[date, ...]:
        """The local dates that count."""
        return self.dates[self.warm_days :]

    @property
    def counted_edges(self) -> tuple[int, ...]:
        """The instants at which the counted days begin, and that at which the last one ends."""
        after = self.counted_dates[-1] + timedelta(days=1)
        return tuple(self.beginning_of(day) for day in (*self.counted_dates, after))

    def beginning_of(self, day: date) -> int:
        """The instant at which a local date's day begins."""
        return local_to_instant(self.time_zone, day, self.begins)


def horizon_for(
    zone: str, first_counted: date, days: int, warm_days: int, begins: int = 0
) -> Horizon:
    """The horizon whose counted part starts on a local date and lasts whole local days, each from
    ``begins`` seconds after 00:00 on."""
    first = first_counted - timedelta(days=warm_days)
    return Horizon(
        time_zone=zone,
        first_day=first,
        warm_days=warm_days,
        days=days,
        start=local_to_instant(zone, first, begins),
        counted=local_to_instant(zone, first_counted, begins),
        end=local_to_instant(zone, first_counted + timedelta(days=days), begins),
        begins=begins,
    )


def warm_days_for(pool: Pool) -> int:
    """One warm-up day; seven where a session may linger for longer than a day."""
    for timeout in (pool.idle_timeout, pool.disconnected_timeout):
        if timeout is None or timeout > DAY:
            return 7
    return 1


@dataclass(frozen=True, slots=True)
class BandEdge:
    """The instant from which a band is in force, and where it came from."""

    instant: int
    day: date
    day_type: int
    band: int


def dates_of(schedule: Schedule, horizon: Horizon) -> tuple[date, ...]:
    """The local dates whose kinds of day are in force during a horizon."""
    if schedule.day_begins <= horizon.begins:
        return horizon.dates
    return (horizon.first_day - timedelta(days=1), *horizon.dates)


def band_edges(schedule: Schedule, horizon: Horizon) -> list[BandEdge]:
    """Band edges of every local date as instants, once; the last edge passed is in force.

    Where a clock change makes two edges fall on one instant, the later of the day wins. A horizon
    whose days begin before those of the schedule begins with the band of the date before.
    """
    edges: list[BandEdge] = []
    for day in dates_of(schedule, horizon):
        day_type = schedule.day_type_of(day)
        type_index = schedule.day_types.index(day_type)
        for index, band in enumerate(day_type.bands):
            instant = max(local_to_instant(horizon.time_zone, day, band.start), horizon.start)
            if edges and edges[-1].instant >= instant:
                edges.pop()
            edges.append(BandEdge(instant, day, type_index, index))
    return edges
