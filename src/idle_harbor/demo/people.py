"""The people of Quillmoor Water: nine groups of named people and one of passers-by."""

from __future__ import annotations

from typing import Any

WORKDAYS = ("mon", "tue", "wed", "thu", "fri")
#: People in exactly these groups at once: plan and demo directory agree on them.
OVERLAPS: dict[tuple[str, ...], int] = {
    ("head-office", "billing"): 14,
    ("head-office", "control-room"): 6,
    ("hydrology", "planning"): 9,
}
WEEK = (*WORKDAYS, "sat", "sun")


def _days(names: tuple[str, ...], chance: float) -> dict[str, float]:
    return dict.fromkeys(names, chance)


def _leaving(sign_off: float, disconnect: float, walk_away: float) -> dict[str, float]:
    return {"sign_off": sign_off, "disconnect": disconnect, "walk_away": walk_away}


def _pattern(
    name: str,
    attendance: dict[str, float],
    start: tuple[str, float],
    length: tuple[float, float],
    leaving: dict[str, float],
    breaks: list[dict[str, Any]] | None = None,
    share: float = 1.0,
) -> dict[str, Any]:
    return {
        "id": name,
        "share": share,
        "attendance": attendance,
        "start": {"kind": "normal", "mean": start[0], "sd_minutes": start[1]},
        "length": {"kind": "normal", "mean_minutes": length[0], "sd_minutes": length[1]},
        "breaks": breaks or [],
        "leaving": leaving,
    }


def _break(
    at: str | float,
    taken: float,
    minutes: tuple[float, float],
    leaving: dict[str, float],
    scatter: float = 20.0,
) -> dict[str, Any]:
    """A break at a clock time, or (a number) so many minutes after the start."""
    when = {"at": at} if isinstance(at, str) else {"at": None, "after_minutes": at}
    return {
        **when,
        "probability": taken,
        "sd_minutes": scatter,
        "mean_minutes": minutes[0],
        "length_sd_minutes": minutes[1],
        "leaving": leaving,
    }


def _named(
    name: str, site: str, profile: str, people: int, patterns: list[dict[str, Any]], **more: Any
) -> dict[str, Any]:
    """A group that follows the directory group of its own name."""
    demand = {"kind": "headcount", "people": people, "follows": name, "patterns": patterns}
    if "rotation" in more:
        demand["rotation"] = more.pop("rotation")
    return {"id": name, "site": site, "profile": profile, "demand": demand, **more}


def _head_office() -> dict[str, Any]:
    """Fifty-five in a hundred work from home on Mondays and Fridays, starting when it suits."""
    lunch = _break("12:30", 0.8, (45, 12), _leaving(0.05, 0.25, 0.7))
    at_home = [
        _break("10:40", 0.35, (25, 10), _leaving(0.0, 0.1, 0.9), 35.0),
        _break("12:50", 0.7, (55, 20), _leaving(0.02, 0.28, 0.7), 30.0),
    ]
    away = _leaving(0.55, 0.27, 0.18)
    return _named(
        "head-office",
        "quillmoor",
        "office",
        720,
        data_areas=["EEA"],
        patterns=[
            _pattern(
                "in-the-office",
                {"tue": 0.93, "wed": 0.92, "thu": 0.9},
                ("08:50", 24),
                (495, 32),
                away,
                [lunch],
            ),
            _pattern(
                "office-mon-fri",
                {"mon": 0.88, "fri": 0.78},
                ("08:55", 24),
                (485, 35),
                away,
                [lunch],
                share=0.45,
            ),
            _pattern(
                "at-home-mon-fri",
                {"mon": 0.88, "fri": 0.78},
                ("08:40", 34),
                (510, 50),
                _leaving(0.3, 0.35, 0.35),
                at_home,
                share=0.55,
            ),
        ],
    )


def _control_room() -> dict[str, Any]:
    """Four crews over three shifts, two days each, day and night, who never sign off."""
    stays = _leaving(0.0, 0.35, 0.65)
    meal = [_break(225, 0.9, (35, 8), _leaving(0.0, 0.2, 0.8))]
    shifts = [
        _pattern(name, _days(WEEK, 0.96), (start, 6), (485, 8), stays, meal)
        for name, start in (("early", "05:55"), ("late", "13:55"), ("night", "21:55"))
    ]
    return _named(
        "control-room",
        "quillmoor",
        "control",
        96,
        shifts,
        works_holidays=True,
        rotation={
            "every_days": 2,
            "order": ["early", "late", "night", None],
            "since": "2027-01-04",
        },
    )


def _field_crews() -> dict[str, Any]:
    """A look at the day's jobs before they drive off, and the reports when they are back."""
    out = [_break(25, 1.0, (508, 8), _leaving(1.0, 0.0, 0.0), 5.0)]
    return _named(
        "field-crews",
        "depots",
        "forms",
        420,
        [
            _pattern(
                "out-and-back",
                {**_days(WORKDAYS, 0.9), "sat": 0.2},
                ("06:37", 8),
                (580, 8),
                _leaving(0.8, 0.2, 0.0),
                out,
            ),
        ],
    )


def _billing() -> dict[str, Any]:
    lunch = _break("12:20", 0.95, (65, 10), _leaving(0.02, 0.18, 0.8))
    return _named(
        "billing",
        "quillmoor",
        "office",
        310,
        [
            _pattern(
                "day",
                {**_days(WORKDAYS, 0.91), "fri": 0.84},
                ("08:30", 14),
                (510, 15),
                _leaving(0.15, 0.2, 0.65),
                [lunch],
            ),
        ],
    )


def _customer_line(
    name: str, site: str, people: int, shifts: list[dict[str, Any]], growth: float
) -> dict[str, Any]:
    return _named(
        name, site, "line", people, shifts, growth={"per_year": growth, "since": "2027-01-01"}
    )


def _tern_bay() -> dict[str, Any]:
    done = _leaving(0.85, 0.1, 0.05)
    meal = [_break(240, 0.95, (40, 6), _leaving(0.1, 0.3, 0.6))]
    week = {**_days(WORKDAYS, 0.86), "sat": 0.4}
    return _customer_line("line-tern-bay", "tern-bay", 300, [
        _pattern("from-seven", week, ("06:58", 7), (485, 10), done, meal, 0.36),
        _pattern("from-ten", week, ("09:57", 8), (485, 10), done, meal, 0.34),
        _pattern("from-one", week, ("12:57", 8), (485, 10), done, meal, 0.3),
        _pattern("all-hands", _days(WEEK, 0.95), ("07:55", 25), (600, 30), done, meal, 0.0),
    ], 0.06)  # fmt: skip


def _port_ellery() -> dict[str, Any]:
    """Across the ocean: their early shift is Dublin's afternoon, their late one its evening."""
    done = _leaving(0.85, 0.1, 0.05)
    meal = [_break(235, 0.95, (35, 6), _leaving(0.1, 0.3, 0.6))]
    week = {**_days(WORKDAYS, 0.86), "sat": 0.3}
    return _customer_line("line-port-ellery", "port-ellery", 240, [
        _pattern("early", week, ("08:28", 7), (485, 10), done, meal, 0.55),
        _pattern("midday", week, ("10:58", 8), (365, 10), done, meal, 0.45),
        _pattern("all-hands", _days(WEEK, 0.95), ("07:55", 25), (540, 30), done, meal, 0.0),
    ], 0.09)  # fmt: skip


def _hydrology() -> dict[str, Any]:
    return _named(
        "hydrology",
        "quillmoor",
        "models",
        64,
        [
            _pattern(
                "late-starters",
                {**_days(WORKDAYS, 0.85), "sat": 0.12},
                ("10:10", 45),
                (560, 70),
                _leaving(0.2, 0.25, 0.55),
                [_break("13:15", 0.7, (50, 15), _leaving(0.0, 0.3, 0.7))],
            ),
        ],
    )


def _planning() -> dict[str, Any]:
    return _named(
        "planning",
        "quillmoor",
        "drawings",
        88,
        [
            _pattern(
                "day",
                _days(WORKDAYS, 0.88),
                ("09:00", 16),
                (505, 20),
                _leaving(0.6, 0.3, 0.1),
                [_break("12:45", 0.85, (45, 10), _leaving(0.05, 0.25, 0.7))],
            ),
        ],
    )


def _contractors() -> dict[str, Any]:
    """Seen to start at any time of the day, and to stay an hour or a whole day."""
    seen = {
        "id": "as-it-comes", "share": 1,
        "attendance": {**_days(WORKDAYS, 0.45), "sat": 0.1, "sun": 0.03},
        "start": {"kind": "histogram", "from": "06:00", "step_minutes": 60,
                  "weights": [2, 5, 9, 11, 8, 6, 4, 6, 7, 5, 3, 2, 2, 1, 1]},
        "length": {"kind": "histogram", "from_minutes": 30, "step_minutes": 60,
                   "weights": [9, 12, 8, 6, 5, 4, 4, 3, 1]},
        "breaks": [], "leaving": _leaving(0.45, 0.4, 0.15),
    }  # fmt: skip
    return _named("contractors", "anywhere", "metering", 150, [seen], works_holidays=True)


def _counters() -> dict[str, Any]:
    hours = [0.0] * 7 + [14, 46, 62, 71, 66, 58, 44, 52, 60, 57, 31, 12] + [0.0] * 5
    saturday = [0.0] * 8 + [20, 38, 42, 36, 18] + [0.0] * 11
    return {
        "id": "depot-counters",
        "site": "depots",
        "profile": "counter",
        "demand": {
            "kind": "drop-in",
            "arrivals_per_hour": {**dict.fromkeys(WORKDAYS, hours), "sat": saturday},
            "session": {"kind": "lognormal", "mean_minutes": 8, "cv": 0.7},
        },
    }


def groups() -> list[dict[str, Any]]:
    """Every group of the plan."""
    return [
        _head_office(),
        _billing(),
        _tern_bay(),
        _port_ellery(),
        _field_crews(),
        _control_room(),
        _hydrology(),
        _planning(),
        _contractors(),
        _counters(),
    ]


def _together(attendance_cv: float, shift_minutes: float) -> dict[str, float]:
    """How much whole days differ at a site: weather, trains, a works meeting."""
    return {"attendance_cv": attendance_cv, "shift_sd_minutes": shift_minutes}


def sites() -> list[dict[str, Any]]:
    """Sites with their clocks and holidays; Quillmoor keeps a day of its own."""
    irish: dict[str, Any] = {"country": "IE", "region": None, "own": []}
    founders = [
        {"day": "2027-06-18", "name": "Founders' day"},
        {"day": "2027-12-24", "name": "Christmas Eve"},
    ]
    return [
        {
            "id": "quillmoor",
            "time_zone": "Europe/Dublin",
            "holidays": {**irish, "own": founders},
            "together": _together(0.05, 5),
        },
        {
            "id": "depots",
            "time_zone": "Europe/Dublin",
            "holidays": irish,
            "display": ["plain"],
            "together": _together(0.06, 4),
        },
        {
            "id": "tern-bay",
            "time_zone": "Europe/Dublin",
            "holidays": irish,
            "together": _together(0.03, 2),
        },
        {
            "id": "port-ellery",
            "time_zone": "America/Halifax",
            "holidays": {"country": "CA", "region": "NS", "own": []},
            "together": _together(0.04, 3),
        },
        {"id": "anywhere", "time_zone": "Europe/Dublin", "together": _together(0.03, 0)},
    ]


def events() -> list[dict[str, Any]]:
    """The first workdays of a month in billing, a storm in October, a tax deadline."""
    line = ["line-tern-bay", "line-port-ellery"]
    return [
        {
            "id": "billing-days",
            "groups": ["billing"],
            "when": {"kind": "month-workdays", "from": 1, "to": 4},
            "factor": 1.35,
        },
        {
            "id": "storm",
            "groups": line,
            "factor": 2,
            "pattern": "all-hands",
            "when": {"kind": "dates", "from": "2027-10-19", "to": "2027-10-21"},
        },
        {
            "id": "storm-crews",
            "groups": ["field-crews"],
            "factor": 1.1,
            "shift_minutes": -60,
            "when": {"kind": "dates", "from": "2027-10-19", "to": "2027-10-22"},
        },
        {
            "id": "counter-rush",
            "groups": ["depot-counters"],
            "factor": 1.6,
            "when": {"kind": "dates", "from": "2027-03-15", "to": "2027-03-16"},
        },
    ]
