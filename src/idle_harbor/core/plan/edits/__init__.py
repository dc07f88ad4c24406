"""Edits of a plan that change more than one value, shared by the page and the command line.

Each edit is a value that is named by its verb. :func:`changed` applies it.
"""

from __future__ import annotations

from typing import Annotated, TypeAlias

from pydantic import Discriminator

from idle_harbor.core.plan import Plan
from idle_harbor.core.plan.edits.access import AddImage, AddUse, SetUse
from idle_harbor.core.plan.edits.bands import BeginDays, MoveBand, RemoveBand, SplitBand
from idle_harbor.core.plan.edits.beginning import AddGroup, BeginPlan, Confirm
from idle_harbor.core.plan.edits.dates import DropDateRules, GiveDateRules
from idle_harbor.core.plan.edits.day_types import (
    AddStretch,
    CopyDayType,
    GiveWeekday,
    NameDayType,
    RemoveDayType,
)
from idle_harbor.core.plan.edits.events import AddWhatIf, SetEventDays
from idle_harbor.core.plan.edits.load_rules import AddLoadRule, RemoveLoadRule, SetSignal
from idle_harbor.core.plan.edits.parts import AddPart, CopyPart, NamePart, RemovePart
from idle_harbor.core.plan.edits.patterns import (
    AddBreak,
    CopyPattern,
    PlainPattern,
    RemovePattern,
    SetBreakTime,
    SetLeaving,
)
from idle_harbor.core.plan.edits.places import AddLine, MovePool
from idle_harbor.core.plan.edits.pools import (
    AddApp,
    GiveOwnPromise,
    OwnSchedule,
    SetKind,
)
from idle_harbor.core.plan.edits.profiles import SetClass
from idle_harbor.core.plan.edits.rotations import BeginRotation, EndRotation, Grow
from idle_harbor.core.plan.edits.sites import AddRestDay, SetCountry, TakeRestDays
from idle_harbor.core.plan.edits.sizes import (
    AskQuota,
    ExtendSize,
    GrantQuota,
    OfferSize,
    TakeSize,
)
from idle_harbor.core.plan.edits.targets import AddTarget, RemoveTarget

Edit: TypeAlias = Annotated[
    MoveBand
    | SplitBand
    | RemoveBand
    | BeginDays
    | AddTarget
    | RemoveTarget
    | AddLoadRule
    | RemoveLoadRule
    | SetSignal
    | GiveDateRules
    | DropDateRules
    | CopyDayType
    | NameDayType
    | RemoveDayType
    | GiveWeekday
    | AddStretch
    | ExtendSize
    | OfferSize
    | TakeSize
    | AskQuota
    | GrantQuota
    | OwnSchedule
    | SetKind
    | BeginPlan
    | Confirm
    | AddGroup
    | AddBreak
    | SetLeaving
    | AddWhatIf
    | SetEventDays
    | SetCountry
    | AddRestDay
    | TakeRestDays
    | AddUse
    | SetUse
    | AddImage
    | SetClass
    | AddLine
    | MovePool
    | BeginRotation
    | EndRotation
    | Grow
    | CopyPattern
    | RemovePattern
    | PlainPattern
    | SetBreakTime
    | AddApp
    | GiveOwnPromise
    | AddPart
    | CopyPart
    | NamePart
    | RemovePart,
    Discriminator("verb"),
]


def changed(plan: Plan, edit: Edit) -> Plan:
    """Return the plan after an edit; its parts may no longer fit each other.

    Raises UnknownNameError if the edit names something that does not exist, PlanError if the edit
    is not possible.
    """
    return edit.done(plan)
