"""What runs on a machine of a scheduler: it reads the input of a job once and computes parts of it.

The scheduler's processes import this module before anything else of ours, so its own imports are
late.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from functools import lru_cache
from typing import Any

#: Inputs that stay in memory.
_KEPT = 4


class _Given:
    """An input as it was sent. Its key alone identifies it."""

    def __init__(self, engine: str, key: str, sent: bytes) -> None:
        self.engine, self.key, self.sent = engine, key, sent

    def __hash__(self) -> int:
        return hash(self.key)

    def __eq__(self, other: object) -> bool:
        return isinstance(other, _Given) and other.key == self.key


@lru_cache(maxsize=_KEPT)
def _opened(name: str, given: _Given) -> Callable[[int], Any]:
    import orjson

    from idle_harbor.runtime import engine_version, prepare_engine

    if engine_version() != given.engine:
        raise RuntimeError("a machine has another version of Idle Harbor")
    prepare_engine()
    from idle_harbor.jobs.kinds.registry import KINDS

    kind = KINDS[name]
    assert kind.open is not None
    return kind.open(orjson.loads(given.sent))


def work_out(
    engine: str, name: str, key: str, sent: bytes, numbers: Sequence[Any]
) -> list[tuple[Any, Any]]:
    """Compute parts of a job.

    Args:
        engine: version of the engine that the job was asked of.
        name: the kind of job.
        key: identifies the input.
        sent: the input as JSON.
        numbers: the parts, by number or as (number, piece).

    Returns:
        Pairs of part and result.

    Raises:
        RuntimeError: this machine has another engine.
    """
    part = _opened(name, _Given(engine, key, sent))
    from idle_harbor.core.base.stopping import on_one_thread

    with on_one_thread():
        return [(number, part(number)) for number in numbers]
