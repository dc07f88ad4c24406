"""Pending events: a 4-ary heap in one int64 array, and the ends of spells, which are sorted
beforehand.

The four places after the last event hold NOTHING, so that every inner event has four children to
compare.

An event is packed as time (31 bits), class (4) and key (28). One integer comparison orders events
by time, then class, then person or host, so ties never depend on history.
"""

from __future__ import annotations

import numpy as np

from idle_harbor.core.base.compiled import compiled
from idle_harbor.core.base.records import longs, prefetch
from idle_harbor.core.engine.kernel.codes import E_TIMER, SHORT_OF_HEAP
from idle_harbor.core.engine.kernel.world import PERSON, of_world

CLASS_SHIFT = 28
TIME_SHIFT = CLASS_SHIFT + 4
CLASS_MASK = 15
KEY_MASK = (1 << CLASS_SHIFT) - 1
#: Later than any event.
NOTHING = 2**62
#: Children of each event in the heap.
CHILDREN = 4
#: So many events ahead the record of a person is asked for.
AHEAD = 8
_PERSON_BYTES = PERSON.itemsize
_END = E_TIMER << CLASS_SHIFT


@compiled(of_world(3), inline=True)
def heap_push(w, time, kind, key):
    """Add an event; if the heap is full, note it in the world so that the run is repeated with a
    larger heap."""
    place = w.heap_size
    if place >= w.heap_room:
        w.short |= SHORT_OF_HEAP
        return
    heap = longs(w.heap_at, w.heap_room + CHILDREN)
    item = (np.int64(time) << TIME_SHIFT) | (np.int64(kind) << CLASS_SHIFT) | np.int64(key)
    w.heap_size = place + 1
    heap[place + CHILDREN] = NOTHING
    while place > 0:
        parent = (place - 1) >> 2
        if heap[parent] <= item:
            break
        heap[place] = heap[parent]
        place = parent
    heap[place] = item


@compiled(inline=True)
def _heap_drop(w):
    """Remove the earliest event (the caller has read it).

    The hole moves down to a leaf along the smallest children, and the last event then moves up from
    there. This takes fewer comparisons than moving it down, because it nearly always belongs near a
    leaf.
    """
    size = w.heap_size - 1
    w.heap_size = size
    heap = longs(w.heap_at, w.heap_room + CHILDREN)
    item = heap[size]
    heap[size] = NOTHING
    if size == 0:
        return
    hole = 0
    child = 1
    while child < size:
        left = child + np.int64(heap[child + 1] < heap[child])
        right = child + 2 + np.int64(heap[child + 3] < heap[child + 2])
        child = right if heap[right] < heap[left] else left
        heap[hole] = heap[child]
        hole = child
        child = CHILDREN * hole + 1
    while hole > 0:
        parent = (hole - 1) >> 2
        if heap[parent] <= item:
            break
        heap[hole] = heap[parent]
        hole = parent
    heap[hole] = item


@compiled(inline=True)
def _next_end(w):
    """Return the next end of a spell as an event, or NOTHING."""
    if w.ended_until >= w.ends:
        return np.int64(NOTHING)
    return longs(w.ends_at, w.ends)[w.ended_until] | _END


@compiled(inline=True)
def next_event(w):
    """Return the earliest event without removing it, or NOTHING."""
    return min(_next_end(w), longs(w.heap_at, w.heap_room + CHILDREN)[0])


@compiled(of_world(1), inline=True)
def fetch_person(w, person):
    """Ask the processor for the record of a person whose event comes soon.

    A pool of 50,000 people does not fit in the cache next to the processor.
    """
    prefetch(w.person_at + person * _PERSON_BYTES)


@compiled(inline=True)
def drop_event(w):
    """Remove the earliest event (there is one, and the caller has read it)."""
    if _next_end(w) <= longs(w.heap_at, w.heap_room + CHILDREN)[0]:
        w.ended_until += 1
        fetch_person(w, longs(w.ends_at, w.ends)[min(w.ended_until + AHEAD, w.ends - 1)] & KEY_MASK)
    else:
        _heap_drop(w)
