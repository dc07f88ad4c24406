"""The heap of pending events against a sorted list."""

from __future__ import annotations

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from idle_harbor.core.arena import Arena, Table
from idle_harbor.core.engine.kernel.codes import SHORT_OF_HEAP
from idle_harbor.core.engine.kernel.heap import heap_drop, heap_push
from idle_harbor.core.engine.kernel.world import WORLD


class Heap:
    def __init__(self, room: int) -> None:
        self.arena = Arena({"heap_at": Table(np.dtype(np.int64), room)})
        self.items = self.arena["heap_at"]
        self.world = np.zeros(1, dtype=WORLD)
        self.world["heap_at"] = self.arena.addresses()["heap_at"]
        self.world["heap_room"] = room

    def push(self, time: int, kind: int, key: int) -> None:
        heap_push(self.world[0], time, kind, key)

    def pop(self) -> tuple[int, int, int]:
        item = int(self.items[0])
        heap_drop(self.world[0])
        return item >> 32, (item >> 28) & 15, item & ((1 << 28) - 1)

    def __len__(self) -> int:
        return int(self.world["heap_size"][0])


events = st.tuples(st.integers(0, 50), st.integers(0, 3), st.integers(0, 5))


@settings(max_examples=150, deadline=None)
@given(st.lists(st.one_of(events, st.none()), max_size=120))
def test_events_come_in_order_of_time_class_and_key(steps):
    """None stands for taking the earliest event out."""
    heap, waiting = Heap(128), []
    for step in steps:
        if step is not None:
            heap.push(*step)
            waiting.append(step)
        elif waiting:
            waiting.sort()
            assert heap.pop() == waiting.pop(0)
        assert len(heap) == len(waiting)
    assert [heap.pop() for _ in range(len(heap))] == sorted(waiting)


def test_a_full_heap_is_noted():
    heap = Heap(2)
    for key in range(3):
        heap.push(1, 0, key)
    assert len(heap) == 2
    assert int(heap.world["short"][0]) == SHORT_OF_HEAP
