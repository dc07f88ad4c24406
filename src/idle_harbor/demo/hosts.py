"""The hosts of Quillmoor Water: places, an invented price sheet, images, and the pools."""

from __future__ import annotations

from typing import Any

PRICES = "Quillmoor price sheet, invented"
_ZONE = "Europe/Dublin"


def places() -> list[dict[str, Any]]:
    """Three invented places: near, cheaper but with fewer sizes, and across the sea."""
    sites = ("quillmoor", "depots", "tern-bay", "port-ellery", "anywhere")

    def lines(*milliseconds: float) -> list[dict[str, Any]]:
        measured = zip(sites, milliseconds, strict=True)
        return [{"site": site, "round_trip_ms": ms} for site, ms in measured]

    return [
        {
            "id": "westquay",
            "area": "EEA",
            "zones": ["west-1", "west-2", "west-3"],
            "lines": lines(9, 24, 14, 88, 38),
            "offers": [
                {"size": "sloop"},
                {"size": "skiff"},
                {"size": "ketch"},
                {"size": "dinghy"},
                {"size": "raft"},
                {"size": "barge", "zones": ["west-1"]},
                {"size": "lantern", "zones": ["west-1", "west-2"]},
            ],
        },
        {
            "id": "northlight",
            "area": "EEA",
            "zones": ["north-1", "north-2"],
            "lines": lines(31, 45, 36, 104, 61),
            "offers": [
                {"size": "sloop", "hourly": "0.371"},
                {"size": "skiff", "hourly": "0.188"},
                {"size": "ketch", "hourly": "0.735", "zones": ["north-1"]},
            ],
        },
        {
            "id": "elmshore",
            "area": "Canada",
            "zones": ["elm-1", "elm-2"],
            "lines": lines(92, 118, 96, 12, 101),
            "offers": [
                {"size": "sloop", "hourly": "0.398"},
                {"size": "skiff", "hourly": "0.199"},
                {"size": "lantern", "hourly": "1.065"},
            ],
        },
    ]


def _size(
    name: str,
    vcpu: float,
    gib: float,
    hourly: str,
    terms: tuple[str, str],
    limits: tuple[float, float, float],
    **more: Any,
) -> dict[str, Any]:
    """A size; ``terms`` are prices for one and three years, ``limits`` disk, network, cache."""
    one, three = terms
    ops, network, cache = limits
    return {
        "id": name,
        "vcpu": vcpu,
        "memory_gib": gib,
        "hourly": hourly,
        "source": PRICES,
        "disk_ops": ops,
        "network_mbit": network,
        "cache_gib": cache,
        "committed": [{"years": 1, "hourly": one}, {"years": 3, "hourly": three}],
        **more,
    }


def sizes() -> list[dict[str, Any]]:
    """Fixed sizes, a burstable one, one that is chosen freely, and one on hardware of one's own."""
    return [
        _size("sloop", 8, 32, "0.412", ("0.263", "0.171"), (5_000, 1_500, 75), quota=1400),
        _size("skiff", 4, 16, "0.208", ("0.133", "0.087"), (2_500, 800, 30), quota=1000),
        _size("ketch", 16, 64, "0.816", ("0.521", "0.339"), (9_000, 3_000, 150)),
        _size("lantern", 8, 32, "1.140", ("0.752", "0.498"), (5_000, 2_500, 75), gpu_gib=8,
              quota=1300),
        _size("dinghy", 4, 16, "0.131", ("0.098", "0.067"), (1_800, 500, 0),
              burst={"baseline": 0.3, "first": 0.5, "most": 30}),
        _size("raft", 12, 40, "0.020", ("0.410", "0.280"), (6_000, 2_000, 0), free={
            "vcpu_low": 2, "vcpu_high": 24, "vcpu_step": 2, "gib_per_vcpu_low": 2,
            "gib_per_vcpu_high": 6, "per_vcpu": "0.034", "per_gib": "0.0051"}),
        _size("barge", 8, 32, "0", ("0", "0"), (12_000, 4_000, 75),
              machine={"hosts": 9, "hourly": "2.870"}),
    ]  # fmt: skip


def disks() -> list[dict[str, Any]]:
    """Disks by tier; a stopped host's disk may move to a cheaper one."""
    return [
        {
            "id": "deck-100",
            "gib": 100,
            "monthly_on": "9.20",
            "monthly_off": "9.20",
            "source": PRICES,
        },
        {
            "id": "hold-100",
            "gib": 100,
            "monthly_on": "9.20",
            "monthly_off": "5.30",
            "source": PRICES,
        },
        {
            "id": "deck-250",
            "gib": 250,
            "monthly_on": "31.40",
            "monthly_off": "31.40",
            "source": PRICES,
        },
    ]


def images() -> list[dict[str, Any]]:
    """One image for most, a small one for counters, one with drawings, one for a single copy."""
    return [
        {
            "id": "office-spring",
            "gib": 48,
            "display": ["plain", "video"],
            "apps": ["Mail", "Meter ledger", "Sheets", "Site letters", "Time sheets"],
        },
        {
            "id": "counter-small",
            "gib": 18,
            "display": ["plain"],
            "apps": ["Depot counter"],
            "tuning": {"cpu": 0.85, "memory": 0.8},
        },
        {
            "id": "drawing-desk",
            "gib": 96,
            "display": ["video"],
            "apps": ["Drawings", "Flow models", "Mail", "Sheets"],
        },
        {
            "id": "metering",
            "gib": 52,
            "system": "one session",
            "display": ["plain", "video"],
            "apps": ["Mail", "Metering"],
        },
    ]


def prices() -> dict[str, Any]:
    """What a month holds besides hosts and disks."""
    return {
        "egress_gib": "0.062",
        "address_month": "0",
        "credits": "25000",
        "source": PRICES,
        "licences": [
            {
                "id": "desk-access",
                "monthly": "5.40",
                "per": "active person",
                "pools": ["office", "line", "field", "control"],
            },
            {"id": "drawings", "monthly": "38.00", "per": "peak session", "pools": ["drawings"]},
        ],
    }


def _profile(
    name: str,
    cpu: tuple[float, float, float],
    memory: tuple[float, float, float],
    logon: tuple[int, float],
    ops: float,
    screens: tuple[int, float, str],
    **more: Any,
) -> dict[str, Any]:
    monitors, megapixels, quality = screens
    return {
        "id": name,
        "cpu": dict(zip(("mean", "sd", "idle"), cpu, strict=True)),
        "memory_gib": dict(zip(("active", "idle", "disconnected"), memory, strict=True)),
        "logon": {"seconds": logon[0], "vcpu": logon[1]},
        "disk_ops": ops,
        "display": {
            "monitors": monitors,
            "megapixels": megapixels,
            "quality": quality,
            "busy_minute": more.pop("busy_minute", 8),
            "vcpu_per_mbit": more.pop("vcpu_per_mbit", 0),
        },
        **more,
    }


def _measured(sessions: int, cpu_error: float, memory_error: float) -> dict[str, Any]:
    return {
        "sessions": sessions,
        "cpu_error": cpu_error,
        "memory_error": memory_error,
        "source": "invented samples, spring",
    }


def profiles() -> list[dict[str, Any]]:
    """A library of what sessions draw: one profile for each group's work, and some to choose."""
    return [
        _profile("office", (0.38, 0.26, 0.03), (1.6, 1.5, 1.4), (24, 1.2), 14,
                 (2, 2.1, "standard"), measured=_measured(182, 0.006, 0.02)),
        _profile("counter", (0.2, 0.15, 0.02), (0.9, 0.8, 0.8), (11, 0.8), 6, (1, 2.1, "lean")),
        _profile("line", (0.3, 0.18, 0.03), (1.3, 1.2, 1.2), (19, 1.0), 9, (2, 2.1, "lean"),
                 measured=_measured(96, 0.008, 0.03)),
        _profile("forms", (0.22, 0.16, 0.02), (1.1, 1.0, 0.9), (17, 0.9), 7, (1, 2.1, "lean")),
        _profile("control", (0.9, 0.4, 0.35), (4.5, 4.4, 4.2), (35, 1.5), 20,
                 (4, 2.1, "standard")),
        _profile("models", (2.8, 1.6, 1.1), (14.0, 13.0, 13.0), (40, 1.5), 140,
                 (2, 3.7, "standard"), gpu_gib=4, busy_minute=5),
        _profile("drawings", (1.7, 1.1, 0.15), (9.0, 8.5, 8.0), (38, 1.5), 90,
                 (2, 3.7, "fine"), gpu_gib=3, busy_minute=5),
        _profile("metering", (0.8, 0.5, 0.05), (2.6, 2.4, 2.3), (28, 1.2), 22,
                 (1, 2.1, "standard")),
        # Nobody runs these yet: they are there to be given to a group.
        _profile("calls", (0.85, 0.5, 0.04), (2.2, 1.9, 1.7), (24, 1.2), 12,
                 (2, 2.1, "fine"), busy_minute=3, vcpu_per_mbit=0.02,
                 measured=_measured(41, 0.03, 0.05)),
        _profile("reading", (0.12, 0.1, 0.02), (1.0, 0.9, 0.9), (15, 0.8), 4, (1, 2.1, "lean")),
        _profile("figures", (0.7, 0.6, 0.04), (3.8, 3.6, 3.4), (26, 1.2), 35,
                 (3, 2.1, "standard")),
    ]  # fmt: skip


def _pool(
    name: str,
    size: str,
    standing: int,
    limit: int,
    load: tuple[float, float],
    starts: int,
    patience: int,
    idle: Any,
    gone: Any,
    **more: Any,
) -> dict[str, Any]:
    return {
        "id": name,
        "time_zone": _ZONE,
        "place": "westquay",
        "size": size,
        "disk": "deck-100",
        "hosts": {"standing": standing, **more.pop("hosts", {})},
        "session_limit": limit,
        "schedule": name,
        "start": {"mean_seconds": starts, "cv": 0.3, **more.pop("start", {})},
        "stop_seconds": 60,
        "patience_seconds": patience,
        "idle_timeout": idle,
        "disconnected_timeout": gone,
        "reconnect_seconds": 8,
        "load": {"limit": 0.85, "tolerance": 0.05, "base_vcpu": load[0], "base_gib": load[1]},
        **more,
    }


def pools() -> list[dict[str, Any]]:
    """Seven pools of every kind, each with a mistake or two that a first try has."""
    usual = (0.3, 3.0)
    return [
        _pool("office", "sloop", 84, 14, usual, 270, 600, 7200, 14400, image="office-spring",
              display="plain", start={"parallel": 20}),
        _pool("line", "sloop", 32, 16, usual, 250, 300, 1800, 2700, image="office-spring",
              display="plain"),
        _pool("field", "sloop", 18, 18, usual, 250, 600, 900, 900, image="office-spring",
              hosts={"surge": 8}, create={"mean_seconds": 420, "cv": 0.3, "script_seconds": 90},
              apps_at_logon=[{"app": "Depot rota", "seconds": 4}]),
        _pool("counters", "skiff", 3, 8, (0.2, 2.0), 240, 180, 900, 900, reconnect_seconds=5,
              disk=None, image="counter-small", display="plain",
              hosts={"surge": 2, "throwaway": True}),
        _pool("control", "skiff", 98, 1, usual, 240, 900, "never", "never", kind="dedicated",
              assigned=[{"group": "control-room", "person": k, "host": k} for k in range(1, 25)]),
        _pool("drawings", "lantern", 156, 1, usual, 300, 900, 43200, 14400, kind="lent",
              disk="deck-250", image="drawing-desk", display="video", reset_seconds=240),
        _pool("metering", "skiff", 32, 1, usual, 240, 900, 3600, 3600, kind="lent",
              disk="hold-100", image="metering", reset_seconds=180,
              hosts={"surge": 6}, start={"counts_from": "registered"}),
    ]  # fmt: skip
