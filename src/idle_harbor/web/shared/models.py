"""Shapes that requests and responses of several views have."""

from __future__ import annotations

from dataclasses import is_dataclass
from datetime import date
from decimal import Decimal
from functools import cache
from types import UnionType
from typing import Any, Literal, Union, get_args, get_origin, get_type_hints

from pydantic import BaseModel, ConfigDict, Field, create_model

from idle_harbor.core.checks.finding import Finding
from idle_harbor.core.figures.intervals import Estimate
from idle_harbor.core.figures.promise import PARTS, Verdict
from idle_harbor.core.plan.declare import Id, Line
from idle_harbor.core.weeks.summary import Figures


class Model(BaseModel):
    """Base of every request and response; each is built when it is first needed."""

    model_config = ConfigDict(extra="forbid", defer_build=True)


class FaultModel(Model):
    """One thing that is wrong."""

    pointer: str = Field(description="JSON pointer to the field, empty for the whole.")
    message: str
    remedy: str


class Problem(Model):
    """A problem document (RFC 9457)."""

    type: str
    title: str
    status: int
    detail: str
    remedy: str = ""
    faults: list[FaultModel] = []


class PlanBody(Model):
    """A plan as it stands on a page, saved or not."""

    plan: dict[str, Any]
    parts: dict[str, str] = Field(
        {},
        description="Lists that the plan leaves out, by the names that an earlier answer's header "
        "Plan-Parts gave them. Where one is not known any more, the plan is asked for whole.",
    )


class AskedBody(PlanBody):
    """The same, with what the page waits for."""

    tab: Line = Field("", max_length=64, description="Names the page; only its newest edit runs.")
    edit: int = Field(0, ge=0, le=2**53, description="Counts the page's edits.")
    owner: Line = Field("", max_length=64, description="For whom long work is done.")
    plan_id: int | None = Field(None, ge=1, le=2**62, description="The plan that the page edits.")


class PoolBody(AskedBody):
    """A plan as it stands on a page, and one of its pools."""

    pool: Id


class GroupBody(PoolBody):
    """One group of one pool."""

    group: Id


class ChangedPlan(Model):
    """A plan after a change."""

    plan: dict[str, Any]


class Answer(Model):
    """What was computed, named by its inputs."""

    input_hash: str


class JobModel(Model):
    """Long work: what it is about, for whom, the page that shows it, how far it is, and how it
    ended. ``left`` are the seconds that it still takes at the pace so far."""

    id: int
    kind: str
    title: str
    owner: str
    link: str
    state: Literal["waiting", "running", "done", "stopped", "failed"]
    problem: str
    done: int
    parts: int
    left: float | None
    asked_at: str
    ended_at: str | None


class JobPath(Model):
    """Long work by its number."""

    job_id: int = Field(ge=1, le=2**62)


class SinceQuery(Model):
    """What was told before is not told again."""

    since: int = Field(0, ge=0, le=2**62, description="The number that the last answer gave.")


class Part(Model):
    """A part of a long answer: so many of so many steps are done; or all is too busy. Where a job
    does it, that job, and the number from which to ask for more."""

    done: int = 0
    of: int = 0
    busy: bool = False
    job: JobModel | None = None
    since: int = 0


class Interval(Model):
    """A mean and its 95 % interval over seeds; null and unbounded where it is infinite."""

    mean: float | None
    low: float | None
    high: float | None
    unbounded: bool = False


class LossModel(Model):
    """What ended sessions before their people came back, what can be done, and how many lost it."""

    cause: str
    text: str
    mend: str
    people: float


# Models that follow from values of the core ---------------------------------------------------


def _told(kind: Any) -> Any:
    """The type as which a value of the core is told."""
    if kind is Estimate:
        return Interval
    if kind is Decimal or kind is date:
        return str
    origin, args = get_origin(kind), get_args(kind)
    if origin is tuple:
        return list[_told(args[0])]  # type: ignore[misc]
    if origin is dict:
        return dict[args[0], _told(args[1])]  # type: ignore[misc, valid-type]
    if origin is UnionType or origin is Union:
        return Union[tuple(map(_told, args))]  # noqa: UP007
    return model_of(kind) if isinstance(kind, type) and is_dataclass(kind) else kind


@cache
def model_of(
    kind: type,
    *,
    name: str = "",
    base: type[Model] = Model,
    without: tuple[str, ...] = (),
    doc: str = "",
) -> Any:
    """A model with the fields of one of the core's values, ``without`` some, beside those of
    another model; a field of that other one replaces the value's. :func:`values_of` gives what
    such a model describes. ``doc`` describes the model; without it the base does, or the value."""
    hints = get_type_hints(kind)
    left = [field for field in hints if field not in (*without, *base.model_fields)]
    fields: dict[str, Any] = {field: (_told(hints[field]), ...) for field in left}
    about = doc or ("" if base is Model else base.__doc__) or kind.__doc__ or ""
    return create_model(name or kind.__name__, __base__=base, __doc__=about, **fields)


def by_part(name: str, each: Any, base: type[Model] = Model) -> Any:
    """A model with one field for each part of the promise, beside those of another model."""
    fields: dict[str, Any] = {part.field: (each, ...) for part in PARTS}
    return create_model(name, __base__=base, __doc__=base.__doc__, **fields)


#: Figures of a week, over one or several seeds.
FiguresModel: Any = model_of(Figures)
#: One thing found: how bad, where, why it matters, how to mend it.
FindingModel: Any = model_of(Finding, name="FindingModel")


class _Beside(Model):
    """The promise, figure by figure, and whether efficiency may be shown."""

    efficiency: float | None = Field(description="Ideal line / billed; null where withheld.")
    efficiency_withheld: str
    cost_per_person: str | None
    losses: list[LossModel]


VerdictsModel: Any = by_part("VerdictsModel", model_of(Verdict), _Beside)
