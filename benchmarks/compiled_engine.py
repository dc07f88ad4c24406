"""The loss system in a compiled general-purpose event engine, in two forms.

The one is the model that SimPy runs, a resource and a process per customer; the other is that
engine's quickest form, an event per departure and no resource. The models' annotations are read
by the engine's compiler and so are not postponed here.
"""

import cimba as cb
import numpy as np
from cimba import inputs


class Customer(cb.Model):  # type: ignore[misc]
    """Takes a slot, stays, and gives it back."""

    desk: cb.Ref["ProcessModel"]
    stay: float

    @cb.process
    def live(self):  # type: ignore[no-untyped-def]
        self.desk.slots.acquire()
        cb.hold(self.stay)
        self.desk.slots.release()


class ProcessModel(cb.Model):  # type: ignore[misc]
    """90 erlang on 100 slots: a resource and a process per customer."""

    gap: cb.Input[float] = inputs.dist.exponential(mean=20.0)
    stay: cb.Input[float] = inputs.dist.exponential(mean=1800.0)
    slots: cb.Resource = cb.Resource(capacity=100)
    asked: cb.Output[int]
    refused: cb.Output[int]

    @cb.process
    def source(self):  # type: ignore[no-untyped-def]
        while True:
            cb.hold(self.gap.next())
            self.asked += 1
            if self.slots.available() > 0:
                cb.spawn(Customer, desk=self, stay=self.stay.next())
            else:
                self.refused += 1


class EventModel(cb.Model):  # type: ignore[misc]
    """90 erlang on 100 slots: a counter and an event per departure."""

    gap: cb.Input[float] = inputs.dist.exponential(mean=20.0)
    stay: cb.Input[float] = inputs.dist.exponential(mean=1800.0)
    busy: int = 0
    asked: cb.Output[int]
    refused: cb.Output[int]

    @cb.process
    def source(self):  # type: ignore[no-untyped-def]
        while True:
            cb.hold(self.gap.next())
            self.asked += 1
            if self.busy < 100:
                self.busy += 1
                cb.schedule(self.leave, self.stay.next())
            else:
                self.refused += 1

    @cb.event
    def leave(self):  # type: ignore[no-untyped-def]
        self.busy -= 1


_PROCESSES, _EVENTS = ProcessModel(), EventModel()


def _replicate(model: ProcessModel | EventModel, arrivals: int, seed: int) -> tuple[int, int]:
    """One replication of about so many arrivals; (arrivals, refused)."""
    window = cb.Window(warmup=0, duration=arrivals * 20.0)
    done = cb.Experiment(model, replications=1, window=window, seed=seed).run()
    return int(np.sum(done[model].asked)), int(np.sum(done[model].refused))


def with_processes(arrivals: int, seed: int) -> tuple[int, int]:
    """A resource and a process per customer."""
    return _replicate(_PROCESSES, arrivals, seed)


def with_events(arrivals: int, seed: int) -> tuple[int, int]:
    """An event per departure."""
    return _replicate(_EVENTS, arrivals, seed)


# Its compiler has to run before our own compiled functions are loaded: numba's extensions of the
# two do not mix in the other order.
with_processes(1000, 0)
with_events(1000, 0)
