"""Every field of a plan that a planner sets, described once.

This table feeds the JSON Schema, the API document, the hints on screen and docs/plan.md. Paths
are those of the plan document without list positions; a tagged union contributes its tag.
"""

from __future__ import annotations

from dataclasses import dataclass

REQUIRED = "required"


@dataclass(frozen=True, slots=True)
class Field:
    """One field: where, in what unit, its default and bounds (inclusive), what it means."""

    path: str
    unit: str
    default: object
    low: float | None
    high: float | None
    meaning: str
    source: str


DAY = 86_400
_OURS = "our choice for a first try"
_TYPED = "the planner"
_MEASURE = "measure it: published rules of thumb are too optimistic for real work"

FIELDS: tuple[Field, ...] = (
    Field("name", "", REQUIRED, None, None, "What the plan is called.", _TYPED),
    Field("currency", "ISO 4217", "EUR", None, None, "Currency of every price in the plan.", _OURS),
    Field("week_of", "date", REQUIRED, None, None,
          "The week that is simulated is the one, Monday to Sunday, that holds this date.", _TYPED),
    Field("promise.wait_p95_seconds", "s", 60, 0, DAY,
          "19 of 20 logons owe people a desktop within this time.", _OURS),
    Field("promise.refused_share", "share", 0.001, 0, 1,
          "The share of logons that may be refused.", _OURS),
    Field("promise.strained_share", "share", 0.02, 0, 1,
          "The share of working time that may be spent on a strained host.", _OURS),
    Field("sites.time_zone", "IANA zone", REQUIRED, None, None,
          "The clock by which people at this site start and leave.", _TYPED),
    Field("sites.holidays.country", "ISO 3166", None, None, None,
          "The country whose public holidays this site keeps.", _TYPED),
    Field("sites.holidays.region", "ISO 3166-2", None, None, None,
          "The part of that country, where parts have holidays of their own.", _TYPED),
    Field("sites.holidays.own.day", "date", REQUIRED, None, None,
          "A day on which this site rests.", _TYPED),
    Field("sites.holidays.own.name", "", "own day", None, None,
          "What that day is called.", _TYPED),
    Field("profiles.cpu.mean", "vCPU", 0.35, 0, 64,
          "CPU that one active session wants on average.", _MEASURE),
    Field("profiles.cpu.sd", "vCPU", 0.25, 0, 64,
          "How much that differs from moment to moment (standard deviation).", _MEASURE),
    Field("profiles.cpu.idle", "vCPU", 0.03, 0, 64,
          "CPU of a session whose person has walked away.", _MEASURE),
    Field("profiles.memory_gib.active", "GiB", 1.8, 0, 1024,
          "Memory of an active session.", _MEASURE),
    Field("profiles.memory_gib.idle", "GiB", 1.6, 0, 1024,
          "Memory of an idle session.", _MEASURE),
    Field("profiles.memory_gib.disconnected", "GiB", 1.5, 0, 1024,
          "Memory of a disconnected session.", _MEASURE),
    Field("profiles.logon.seconds", "s", 22, 0, 3600,
          "How long a logon takes when the host has CPU to spare.", _MEASURE),
    Field("profiles.logon.vcpu", "vCPU", 1.0, 0, 64,
          "CPU that a logon in progress wants.", _MEASURE),
    Field("groups.works_holidays", "", False, None, None,
          "Whether the group comes on its site's holidays too.", _OURS),
    Field("groups.growth.per_year", "share", 0.0, -0.9, 9,
          "How much the headcount, or the rate of arrivals, grows in a year.", _TYPED),
    Field("groups.growth.since", "date", REQUIRED, None, None,
          "The date on which the headcount, or the rate, is as given.", _TYPED),
    Field("groups.demand.headcount.people", "people", 0, 0, 100_000,
          "How many people the group has.", _TYPED),
    Field("groups.demand.headcount.follows", "directory group", None, None, None,
          "The directory group whose members are counted; the number is renewed from it.", _TYPED),
    Field("groups.demand.headcount.rotation.every_days", "days", 7, 1, 366,
          "After how many days the crews move on to the next shift.", _OURS),
    Field("groups.demand.headcount.rotation.order", "patterns", REQUIRED, None, None,
          "The shifts in the order in which a crew works them; null is rest. People are split "
          "evenly into as many crews.", _TYPED),
    Field("groups.demand.headcount.rotation.since", "date", REQUIRED, None, None,
          "The day on which the first crew begins with the first shift.", _TYPED),
    Field("groups.demand.headcount.patterns.share", "share", 1.0, 0, 1,
          "The share of the people that follow this pattern on the weekdays it is valid on.",
          _OURS),
    Field("groups.demand.headcount.patterns.start.mean", "clock", "08:45", None, None,
          "When people start on average, on their site's clock.", _OURS),
    Field("groups.demand.headcount.patterns.start.sd_minutes", "min", 25, 0, 360,
          "How far starts scatter about that (standard deviation, cut at three).", _OURS),
    Field("groups.demand.headcount.patterns.start.from", "clock", "06:00", None, None,
          "Where the observed starts begin.", _TYPED),
    Field("groups.demand.headcount.patterns.start.step_minutes", "min", 15, 1, 240,
          "How wide each step of the observed starts is.", _TYPED),
    Field("groups.demand.headcount.patterns.length.mean_minutes", "min", 495, 10, 1440,
          "From start to leaving, breaks included.", _OURS),
    Field("groups.demand.headcount.patterns.length.sd_minutes", "min", 30, 0, 360,
          "How much that differs from person to person (standard deviation).", _OURS),
    Field("groups.demand.headcount.patterns.length.from_minutes", "min", 0, 0, 1440,
          "The shortest of the observed lengths.", _TYPED),
    Field("groups.demand.headcount.patterns.length.step_minutes", "min", 30, 1, 240,
          "How wide each step of the observed lengths is.", _TYPED),
    Field("groups.demand.headcount.patterns.breaks.probability", "share", 1.0, 0, 1,
          "How many of the people take this break.", _OURS),
    Field("groups.demand.headcount.patterns.breaks.at", "clock", "12:30", None, None,
          "When the break begins on average; before the start it means the following day.", _OURS),
    Field("groups.demand.headcount.patterns.breaks.after_minutes", "min", None, 1, 1440,
          "How long after their start people take it, in place of a clock time.", _OURS),
    Field("groups.demand.headcount.patterns.breaks.sd_minutes", "min", 15, 0, 180,
          "How far that scatters.", _OURS),
    Field("groups.demand.headcount.patterns.breaks.mean_minutes", "min", 45, 1, 720,
          "How long the break is on average.", _OURS),
    Field("groups.demand.headcount.patterns.breaks.length_sd_minutes", "min", 10, 0, 180,
          "How much that differs.", _OURS),
    Field("groups.demand.drop-in.session.mean_minutes", "min", 8, 0.02, 1440,
          "How long a visit lasts on average, counted from connection.", _OURS),
    Field("groups.demand.drop-in.session.cv", "", 1.0, 0, 10,
          "Standard deviation of a lognormal visit as a share of its mean.", _OURS),
    Field("groups.demand.drop-in.arrivals_per_hour", "arrivals/h", REQUIRED, 0, 100_000,
          "Arrivals expected in each hour of each weekday.", _TYPED),
    Field("events.factor", "times", 1.0, 0, 10,
          "How many times as much demand comes on these days; above full attendance more people "
          "come.", _TYPED),
    Field("events.shift_minutes", "min", 0, -720, 720,
          "How much later (or, below zero, earlier) everything happens on these days.", _TYPED),
    Field("events.pattern", "", None, None, None,
          "A pattern that everyone in the groups follows on these days.", _TYPED),
    Field("overlaps.people", "people", REQUIRED, 1, 100_000,
          "How many people are in all of these groups, and in no other.", _TYPED),
    Field("entitlements.use", "share", 1.0, 0, 1,
          "The share of working days on which people open this one.", _OURS),
    Field("entitlements.profile", "", None, None, None,
          "The workload profile of this use, where it is not the group's own.", _TYPED),
    Field("sizes.vcpu", "vCPU", REQUIRED, 0.25, 512, "Processors of a host.", _TYPED),
    Field("sizes.memory_gib", "GiB", REQUIRED, 0.5, 24_576, "Memory of a host.", _TYPED),
    Field("sizes.hourly", "money/h", REQUIRED, 0, 10_000,
          "Price of one host for one hour while it is on.", _TYPED),
    Field("sizes.source", "", "typed", None, None, "Where the price comes from.", _TYPED),
    Field("sizes.billing_step_seconds", "s", 1, 1, 3600,
          "A run is billed in steps of this length.", _OURS),
    Field("sizes.billing_minimum_seconds", "s", 0, 0, DAY,
          "The least that a run is billed for.", _OURS),
    Field("disks.monthly_on", "money/month", REQUIRED, 0, 100_000,
          "Price of one host's disk for a month while the host is on.", _TYPED),
    Field("disks.monthly_off", "money/month", REQUIRED, 0, 100_000,
          "Price of one host's disk for a month while the host is off.", _TYPED),
    Field("disks.source", "", "typed", None, None, "Where the prices come from.", _TYPED),
    Field("pools.time_zone", "IANA zone", REQUIRED, None, None,
          "The clock by which the pool's schedule runs.", _TYPED),
    Field("pools.hosts.standing", "hosts", 0, 0, 10_000,
          "Hosts that exist all the time, powered off when not needed.", _TYPED),
    Field("pools.session_limit", "sessions", 10, 1, 1_000,
          "The most sessions one host may hold.", _OURS),
    Field("pools.start.mean_seconds", "s", 240, 0, 7_200,
          "From powering a host on to its taking sessions, on average.", _OURS),
    Field("pools.start.cv", "", 0.3, 0, 3,
          "How much that differs (standard deviation as a share of the mean).", _OURS),
    Field("pools.assigned.person", "", REQUIRED, 1, 100_000,
          "Which of the group's people, counted from 1.", _TYPED),
    Field("pools.assigned.host", "", REQUIRED, 1, 10_000,
          "The number of their host in the pool.", _TYPED),
    Field("pools.stop_seconds", "s", 60, 0, 7_200,
          "From stopping a host to its no longer being billed.", _OURS),
    Field("pools.patience_seconds", "s or never", 600, 0, DAY,
          "How long people wait for a desktop before they give up.", _OURS),
    Field("pools.idle_timeout", "s or never", 7_200, 0, 30 * DAY,
          "An idle session is disconnected after this time.", _OURS),
    Field("pools.disconnected_timeout", "s or never", 3_600, 0, 30 * DAY,
          "A disconnected session is signed off after this time.", _OURS),
    Field("pools.reconnect_seconds", "s", 8, 0, 3_600,
          "How long it takes to return to one's own session.", _OURS),
    Field("pools.load.limit", "share", 0.85, 0.05, 1,
          "Beyond this share of a host's CPU or memory, work on it is strained.", _OURS),
    Field("pools.load.tolerance", "share", 0.05, 0.0001, 0.5,
          "How often CPU may pass that before people feel it.", _OURS),
    Field("pools.load.base_vcpu", "vCPU", 0.3, 0, 64,
          "CPU that a host wants without any session.", _OURS),
    Field("pools.load.base_gib", "GiB", 3, 0, 1024,
          "Memory that a host wants without any session.", _OURS),
    Field("schedules.tick_seconds", "s", 300, 10, 3_600,
          "How often the policy looks.", _OURS),
    Field("schedules.day_types.bands.floor", "hosts", 0, 0, 10_000,
          "The least number of ready hosts; of a dedicated pool its first ones.", _TYPED),
    Field("schedules.day_types.bands.fill_ceiling", "share", 0.8, 0.05, 1,
          "How full the ready hosts may be before the next one is started.", _OURS),
    Field("schedules.day_types.bands.headroom", "sessions", 0, 0, 100_000,
          "Free session slots to keep open; of a dedicated pool hosts that are nobody's.", _OURS),
)  # fmt: skip

BY_PATH: dict[str, Field] = {field.path: field for field in FIELDS}

#: What choices mean, for hints and docs.
CHOICES: dict[str, dict[str, str]] = {
    "pools.kind": {
        "shared": "many sessions on a host",
        "dedicated": "every host is one person's, and starts when they knock",
    },
    "pools.assign": {
        "at first logon": "who has no host yet takes the first that is nobody's",
        "by list": "only people on the list have a host",
    },
    "pools.desktop_and_apps": {
        "one session": "a person's apps open in the session of their desktop",
        "two sessions": "a person's apps are a session beside their desktop",
    },
    "schedules.day_types.bands.rule": {
        "spread": "the next person goes to the host with the fewest sessions",
        "fill": "the next person goes to the fullest host that still has room",
    },
    "schedules.day_types.bands.release": {
        "keep all": "no host is let go",
        "when empty": "hosts that nobody uses are stopped",
        "drain": "the least used hosts take no new sessions and stop once empty",
    },
}
