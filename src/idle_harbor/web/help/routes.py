"""What fields mean, and whether the parts of the application answer."""

from __future__ import annotations

import os
from zoneinfo import available_timezones

from flask import Response

from idle_harbor.core.plan.declare import EARLIEST, LATEST
from idle_harbor.core.plan.table import plan_fields
from idle_harbor.runtime import engine_version
from idle_harbor.store.database import StoreError
from idle_harbor.web.help.models import Health, HintModel, HintsAnswer, ZonesAnswer
from idle_harbor.web.shared.asked import database, json_response
from idle_harbor.web.shared.view import view

help_ = view("help", "")


def _hints() -> str:
    fields = [
        HintModel(
            path=field.path,
            unit=field.about.unit,
            low=field.about.low,
            high=field.about.high,
            step=field.step,
            whole=field.whole,
            choices=list(field.choices),
            meaning=field.about.meaning,
        )
        for field in plan_fields()
    ]
    choices = {f.path: dict(f.about.choices) for f in plan_fields() if f.about.choices is not None}
    return HintsAnswer(
        fields=fields,
        choices=choices,
        earliest=EARLIEST.isoformat(),
        latest=LATEST.isoformat(),
    ).model_dump_json()


def _zones() -> str:
    zones = sorted(z for z in available_timezones() if "/" in z and not z.startswith("Etc/"))
    return ZonesAnswer(zones=[*zones, "UTC"]).model_dump_json()


#: Made once, at the start: the zones are files that may not be there to be read later.
_HINTS, _ZONES = _hints(), _zones()


@help_.get("/hints", responses={200: HintsAnswer})
def read_hints() -> Response:
    """What every field means, in what unit and bounds."""
    return json_response(_HINTS)


@help_.get("/zones", responses={200: ZonesAnswer})
def read_zones() -> Response:
    """Name the time zones that a plan may have."""
    return json_response(_ZONES)


@help_.get("/health", responses={200: Health})
def read_health() -> Response:
    """Whether the parts of the application answer."""
    own = os.getpid()
    try:
        database().ping()
    except StoreError:
        return json_response(Health(database="gone", engine=engine_version(), process=own))
    return json_response(Health(database="ok", engine=engine_version(), process=own))
