"""What a machine does of somebody else's job: it reads the input once and works out parts of it.

Read on machines that may have nothing of ours in memory yet, so it reads the rest when it is asked.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from functools import lru_cache
from typing import Any

#: Inputs that are read and kept: a plan, and what is drawn from it is kept beside.
_KEPT = 4


class _Given:
    """An input as it was sent; which one it is its key says alone."""

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
    from idle_harbor.jobs.kinds import KINDS

    kind = KINDS[name]
    assert kind.open is not None
    return kind.open(orjson.loads(given.sent))


def work_out(
    engine: str, name: str, key: str, sent: bytes, numbers: Sequence[Any]
) -> list[tuple[Any, Any]]:
    """Parts of a job of a kind, whose input is named by its key; raises what a part raises, and
    RuntimeError where this machine has another engine."""
    part = _opened(name, _Given(engine, key, sent))
    from idle_harbor.core.base.stopping import on_one_thread

    with on_one_thread():
        return [(number, part(number)) for number in numbers]
