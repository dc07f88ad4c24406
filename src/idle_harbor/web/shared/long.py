"""Long questions of pages: answered at once, part by part, or by a job that the page follows."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass
from typing import Any, Generic, TypeVar

import orjson
from flask import Response, current_app

from idle_harbor.core.base.caches import ByteCache
from idle_harbor.jobs.asking import Asker, LongQuestion
from idle_harbor.store.jobs import Jobs
from idle_harbor.web.shared.asked import Step, database, in_parts, json_response, to_json
from idle_harbor.web.shared.jobs import job_asked, job_values
from idle_harbor.web.shared.models import AskedBody
from idle_harbor.web.shared.problems import problem

Q = TypeVar("Q")
V = TypeVar("V")

#: Questions of jobs that pages follow, so that to look at one reads no plan.
_QUESTION_BYTES = 64_000_000
#: Their finished parts, so that a look reads only what is new.
_PART_BYTES = 64_000_000
#: Of so many jobs at most: the values of a small question take more than its bytes.
_MOST_JOBS = 200


def question_cache() -> ByteCache:
    """A cache of (question, bytes of its plan as JSON) by the number of the job."""
    return ByteCache(_QUESTION_BYTES, lambda kept: max(int(kept[1]), _QUESTION_BYTES // _MOST_JOBS))


@dataclass(frozen=True, slots=True)
class _Seen:
    """Finished parts of a job as core values by their numbers, up to the newest of them."""

    newest: int
    values: Mapping[int, Any]
    size: int


_NONE_SEEN = _Seen(0, {}, 0)


def part_cache() -> ByteCache:
    """A cache of parts that answers made from all finished parts have read, by job."""
    return ByteCache(_PART_BYTES, lambda seen: max(int(seen.size), _PART_BYTES // _MOST_JOBS))


@dataclass(frozen=True, slots=True)
class LongAnswer(Generic[Q, V]):
    """How a view answers a kind of long question.

    ``tell`` makes the values of an answer from parts by their numbers: from the new parts, or with
    ``whole`` from all of them. It gets the question as a function, since not every answer needs the
    plan. ``counted`` is the number of parts in the progress, where further parts only complete the
    answer. With ``anew`` each answer is made from all finished parts.
    """

    question: LongQuestion[Q, V]
    view: str
    tell: Callable[[Callable[[], Q], Mapping[int, V], bool], dict[str, Any]]
    counted: Callable[[Q], int] | None = None
    anew: bool = False

    def _steps(self, asked: Q) -> Iterator[Step]:
        of = self.question.parts(asked) if self.counted is None else self.counted(asked)
        found: dict[int, V] = {}
        for number, value in self.question.at_once(asked):
            found[number] = value
            if number + 1 < of:
                yield number + 1, of, self.tell(lambda: asked, {number: value}, False)
        yield of, of, self.tell(lambda: asked, found, True)

    def at_once(self, asked: Q) -> dict[str, Any]:
        """The whole answer."""
        *_, (_, _, brought) = self._steps(asked)
        answer: dict[str, Any] = brought["answer"]
        return answer

    def in_parts(self, body: AskedBody, asked: Q, by: Asker) -> Response:
        """The answer a line a part, each as it gets done; of a question that is not short, the job
        that answers it as the only line."""
        if self.question.short(asked):
            return in_parts(self.view, body, self._steps(asked))
        return self.as_job(asked, by)

    def as_job(self, asked: Q, by: Asker, priority: int | None = None) -> Response:
        """The job that answers a question, in place of the answer."""
        wish = self.question.wish(asked, by, priority)
        held = job_asked(wish)
        _questions().put(held["id"], (asked, len(orjson.dumps(wish.input))))
        # A line, as of answers in parts.
        line = to_json({"done": held["done"], "of": held["parts"], "job": held}) + b"\n"
        return json_response(line)

    def so_far(self, job_id: int, since: int = 0) -> Response:
        """The progress of a job, with the results of parts that were finished after ``since``."""
        jobs = Jobs(database())
        row = jobs.job(job_id)
        if row["kind"] != self.question.name:
            return problem(
                "other-kind",
                409,
                "This job is of another kind",
                f"job {job_id} is a {row['kind']}",
                "ask for what it is about",
            )
        whole = row["state"] == "done"
        if self.anew:
            seen = self._all_finished(job_id)
        else:
            # The whole is made of all parts, whatever the page has had of them.
            seen = self._finished(job_id, 0 if whole else since)
        counted = row["parts"] if self.counted is None else self.counted(self._asked(job_id))
        return json_response(
            {
                "done": min(row["done"], counted),
                "of": counted,
                "job": job_values(row),
                "since": max(seen.newest, since),
                **self.tell(lambda: self._asked(job_id), seen.values, whole),
            }
        )

    def _finished(self, job_id: int, since: int) -> _Seen:
        """Parts that were finished after ``since``."""
        parts = Jobs(database()).parts(job_id, since)
        bodies = [part["body"] for part in parts]
        values = dict(zip((p["part"] for p in parts), self.question.values(bodies), strict=True))
        newest = max((part["kept"] for part in parts), default=since)
        return _Seen(newest, values, len(orjson.dumps(bodies)))

    def _all_finished(self, job_id: int) -> _Seen:
        """All finished parts in the order of their numbers; those seen before come from a cache."""
        seen: _Seen = _parts().get(job_id) or _NONE_SEEN
        new = self._finished(job_id, seen.newest)
        if new.values:
            values = dict(sorted({**seen.values, **new.values}.items()))
            seen = _Seen(new.newest, values, seen.size + new.size)
            _parts().put(job_id, seen)
        return seen

    def _asked(self, job_id: int) -> Q:
        """The question of a job, read once."""
        known = _questions().get(job_id)
        if known is None:
            given = Jobs(database()).given(job_id)["input"]
            known = (self.question.read(given), len(orjson.dumps(given)))
            _questions().put(job_id, known)
        asked: Q = known[0]
        return asked


def _questions() -> ByteCache:
    found = current_app.extensions["questions"]
    assert isinstance(found, ByteCache)
    return found


def _parts() -> ByteCache:
    found = current_app.extensions["parts"]
    assert isinstance(found, ByteCache)
    return found
