"""Quillmoor Water, a made-up regional water company: its first plan, with the usual mistakes.

The plan is a plan file like any other, ``quillmoor-water.json`` in this folder. What it shows:

* Head office: 55 in 100 work from home on Mondays and Fridays, and start when it suits them.
* The customer line: two sites five time zones apart on one schedule, which thinks of the evening
  too late.
* Field crews: a look at the day's jobs before they drive off, and the reports when they are back:
  two short rushes a day, with hosts kept on in between.
* The control room: four crews over three shifts, two days each, who never sign off.
* Contractors: seen to start at any time of the day, and to stay an hour or a whole day.
* Events: the first workdays of a month in billing, a storm in October, a rush at the counters.
* The office schedule starts its hosts at the hour people come rather than a start time before, lets
  them fill up before it asks for the next, and drains while people still linger.
* Places: one near, one cheaper but with fewer sizes, one across the sea; an invented price sheet;
  fixed sizes, a burstable one, one that is chosen freely, and one on hardware of one's own.
* Profiles: one for each group's work; nobody runs the last three yet.
"""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

#: Read at once: a server that has become another user may not read it later.
_TEXT = Path(__file__).with_name("quillmoor-water.json").read_text(encoding="utf-8")


def demo_plan() -> dict[str, Any]:
    """The demo's plan document."""
    plan: dict[str, Any] = json.loads(_TEXT)
    return plan
