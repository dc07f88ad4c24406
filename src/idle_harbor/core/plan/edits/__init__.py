"""Edits of a plan that change more than one value, shared by the page and the command line.

Each edit is a value that is named by its verb. :func:`changed` applies it.
"""

from __future__ import annotations

from typing import Annotated, TypeAlias

from pydantic import Discriminator

from idle_harbor.core.plan import Plan
from idle_harbor.core.plan.edits.access import AddImage, AddUse, SetUse
from idle_harbor.core.plan.edits.bands import MoveBand, RemoveBand, SplitBand
from idle_harbor.core.plan.edits.beginning import AddGroup, BeginPlan
from idle_harbor.core.plan.edits.dates import DropDateRules, GiveDateRules
from idle_harbor.core.plan.edits.day_types import (
    AddStretch,
    CopyDayType,
    GiveWeekday,
    RemoveDayType,
    RenameDayType,
)
from idle_harbor.core.plan.edits.events import AddEvent, AddWhatIf, SetEventDays
from idle_harbor.core.plan.edits.groups import RemoveGroup, RenameGroup
from idle_harbor.core.plan.edits.load_rules import AddLoadRule, RemoveLoadRule, SetSignal
from idle_harbor.core.plan.edits.patterns import (
    AddBreak,
    CopyPattern,
    PlainPattern,
    RemovePattern,
    SetBreakTime,
    SetLeaving,
)
from idle_harbor.core.plan.edits.places import AddLicence, AddLine, AddPlace, MovePool
from idle_harbor.core.plan.edits.pools import (
    AddApp,
    CopyPool,
    GiveOwnPromise,
    OwnSchedule,
    RemovePool,
    SetKind,
)
from idle_harbor.core.plan.edits.profiles import CopyProfile
from idle_harbor.core.plan.edits.rotations import BeginRotation, EndRotation, Grow
from idle_harbor.core.plan.edits.sites import AddRestDay, AddSite, SetCountry, TakeRestDays
from idle_harbor.core.plan.edits.sizes import (
    AskQuota,
    CopySize,
    ExtendSize,
    GrantQuota,
    OfferSize,
    RemoveSize,
    TakeSize,
)
from idle_harbor.core.plan.edits.targets import AddTarget, RemoveTarget

Edit: TypeAlias = Annotated[
    MoveBand
    | SplitBand
    | RemoveBand
    | AddTarget
    | RemoveTarget
    | AddLoadRule
    | RemoveLoadRule
    | SetSignal
    | GiveDateRules
    | DropDateRules
    | CopyDayType
    | RenameDayType
    | RemoveDayType
    | GiveWeekday
    | AddStretch
    | RemoveGroup
    | RenameGroup
    | RemoveSize
    | ExtendSize
    | CopySize
    | OfferSize
    | TakeSize
    | AskQuota
    | GrantQuota
    | CopyPool
    | OwnSchedule
    | RemovePool
    | SetKind
    | BeginPlan
    | AddGroup
    | AddBreak
    | SetLeaving
    | AddWhatIf
    | AddEvent
    | SetEventDays
    | AddSite
    | SetCountry
    | AddRestDay
    | TakeRestDays
    | AddUse
    | SetUse
    | AddImage
    | AddPlace
    | AddLine
    | MovePool
    | AddLicence
    | BeginRotation
    | EndRotation
    | Grow
    | CopyPattern
    | RemovePattern
    | PlainPattern
    | SetBreakTime
    | AddApp
    | GiveOwnPromise
    | CopyProfile,
    Discriminator("verb"),
]


def changed(plan: Plan, edit: Edit) -> Plan:
    """Return the plan after an edit; its parts may no longer fit each other.

    Raises UnknownNameError if the edit names something that does not exist, PlanError if the edit
    is not possible.
    """
    return edit.done(plan)
