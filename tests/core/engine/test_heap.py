"""What is to come, in a heap or known beforehand, against a sorted list."""

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from idle_harbor.core.base.arena import Arena, Table
from idle_harbor.core.engine.kernel.codes import E_TIMER, SHORT_OF_HEAP
from idle_harbor.core.engine.kernel.heap import CHILDREN, NOTHING, drop_event, heap_push, next_event
from idle_harbor.core.engine.kernel.world import WORLD
from tests.sizes import size


class Heap:
    """Events, and the (time, person) of ends that are known beforehand."""

    def __init__(self, room: int, ends: list[tuple[int, int]] | None = None) -> None:
        known = sorted(ends or [])
        long = np.dtype(np.int64)
        self.arena = Arena(
            {"heap_at": Table(long, room + CHILDREN), "ends_at": Table(long, len(known))}
        )
        self.arena["heap_at"][:CHILDREN] = NOTHING
        self.arena["ends_at"][:] = [(time << 32) | person for time, person in known]
        self.world = np.zeros(1, dtype=WORLD)
        for name, address in self.arena.addresses().items():
            self.world[name] = address
        self.world["heap_room"], self.world["ends"] = room, len(known)

    def push(self, time: int, kind: int, key: int) -> None:
        heap_push(self.world[0], time, kind, key)

    def pop(self) -> tuple[int, int, int]:
        item = int(next_event(self.world[0]))
        drop_event(self.world[0])
        return item >> 32, (item >> 28) & 15, item & ((1 << 28) - 1)

    def __len__(self) -> int:
        world = self.world[0]
        return int(world["heap_size"] + world["ends"] - world["ended_until"])


events = st.tuples(st.integers(0, 50), st.integers(0, 3), st.integers(0, 5))


@settings(max_examples=size(90, 450))
@given(
    st.lists(st.one_of(events, st.none()), max_size=120),
    st.lists(st.tuples(st.integers(0, 50), st.integers(0, 5)), max_size=60),
)
def test_events_come_in_order_of_time_class_and_key(steps, ends):
    """None stands for taking the earliest event out."""
    heap = Heap(128, ends)
    waiting = [(time, E_TIMER, person) for time, person in ends]
    for step in steps:
        if step is not None:
            heap.push(*step)
            waiting.append(step)
        elif waiting:
            waiting.sort()
            assert heap.pop() == waiting.pop(0)
        assert len(heap) == len(waiting)
    assert [heap.pop() for _ in range(len(heap))] == sorted(waiting)
    assert next_event(heap.world[0]) == NOTHING


def test_a_full_heap_is_noted():
    heap = Heap(2)
    for key in range(3):
        heap.push(1, 0, key)
    assert len(heap) == 2
    assert int(heap.world["short"][0]) == SHORT_OF_HEAP
