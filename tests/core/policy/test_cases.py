"""Every row of the policy's cases (docs/policy.md), put to ``decide``."""

import re
from itertools import pairwise
from pathlib import Path

import pytest

from idle_harbor.core.policy.codes import Action, Cause
from idle_harbor.core.policy.view import NOBODY, RELEASE_CODES, SOMEBODY
from tests.core.policy.deciding import Seen, decide_for

PAGE = Path(__file__).resolve().parents[3] / "docs" / "policy.md"
ROW = re.compile(r"\| (?!case |-)(.*) \|")
LEAST_ROWS = 150
#: What a load rule of the page is where a row says nothing else.
RULE = {"value": 0.9, "asks": 1, "asks_at": 0.8, "adds": 2, "takes_back": 1}
#: What its words stand for; times are minutes.
SAYS = {
    "reads": "value",
    "asks": "asks_at",
    "adds": "adds",
    "permits": "permits_at",
    "extra": "extra",
}
TIMES = {
    "holds": "asks_hold",
    "keeps": "permits_hold",
    "pauses": "pause",
    "past since": "asked_since",
    "under since": "permitted_since",
    "changed": "changed_at",
}


def rows():
    """(section, case, hosts, also, settings, decision) of each row."""
    section = ""
    for line in PAGE.read_text().splitlines():
        if line.startswith("## "):
            section = line[3:]
        elif found := ROW.fullmatch(line):
            yield section, *(cell.strip() for cell in found[1].split("|"))


def numbers(text):
    return [int(each) for each in re.findall(r"\d+", text)]


def rule_of(text):
    """A load rule in words."""
    told = dict(RULE)
    for part in filter(None, text.split(", ")):
        name, _, value = part.rpartition(" ")
        if part == "low":
            told["low"] = 1
        elif part == "asks nothing":
            told["asks"] = 0
        elif part == "reads nothing":
            told["value"] = float("nan")
        elif name in TIMES:
            told[TIMES[name]] = 60 * int(value)
        else:
            told[SAYS[name]] = float(value)
            told["permits"] = int("permits_at" in told)
    return told


def seen_of(hosts, also):
    """What the policy is to see of a row."""
    each = [host.split() for host in hosts.split(", ")]
    told = {"owners": list(range(len(each))), "waits": [False] * len(each), "knocking": NOBODY}
    for part in filter(None, also.split("; ")):
        if part.startswith("rule"):
            told.setdefault("rules", []).append(rule_of(part[4:].strip()))
            continue
        match part.split(" ")[-1], numbers(part):
            case "waiting" | "overdue" as what, [count]:
                told[what] = count
            case "began", [hosts]:
                told["stepping"] = hosts
            case "nobody's", [host]:
                told["owners"][host - 1] = -1
            case "waits", [host]:
                told["waits"][host - 1] = True
            case "knocks", [host]:
                told["knocking"] = host - 1
            case "knocks", []:
                told["knocking"] = SOMEBODY
            case _, [minute] if part.startswith("minute"):
                told["now"] = 60 * minute
            case _, [hosts, at, until] if " by " in part:
                told.setdefault("targets", []).append((60 * at, 60 * until, hosts))
            case _, leads if part.startswith("lead "):
                minutes = (0, *leads, *leads[-1:])[: len(each) + 1]
                told["leads"] = [60 * lead for lead in minutes]
            case _, since if part.startswith("ready since"):
                told["since"] = [60 * minute for minute in since]
            case _:
                raise AssertionError(f"not understood: {part}")
    sessions = [int(host[1]) if len(host) > 1 else 0 for host in each]
    return Seen([host[0] for host in each], sessions, **{"waiting": 0, **told})


def settings_of(text):
    """Settings by name; words are codes, minutes seconds."""
    told = {"limit": 4}
    for part in filter(None, text.split("; ")):
        name, value = part.split(" ", 1)
        if name == "release":
            told[name] = RELEASE_CODES[value]
        else:
            told[name] = float(value) * (60 if name == "least_run" else 1)
    return told


def decided(text):
    """(host from 0, action, cause) of a decision in words."""
    if text == "nothing":
        return []
    found = re.findall(r"(\w+) (\d+) \(([\w ]+)\)", text)
    assert len(found) == text.count("(")
    return [
        (int(host) - 1, Action[verb.upper()], Cause[cause.upper().replace(" ", "_")])
        for verb, host, cause in found
    ]


CASES = list(rows())


@pytest.mark.parametrize("case", CASES, ids=lambda case: f"{case[0]}: {case[1]}")
def test_the_policy_decides_as_the_page_says(case):
    _, _, hosts, also, settings, decision = case
    got = decide_for(seen_of(hosts, also), **settings_of(settings))
    assert [(d.host, d.action, d.cause) for d in got] == decided(decision)


def test_the_page_has_its_cases_and_none_twice():
    assert len(CASES) >= LEAST_ROWS
    assert all(before != after for before, after in pairwise(sorted(case[2:] for case in CASES)))
