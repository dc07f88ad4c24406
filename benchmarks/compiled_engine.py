"""The loss system in a compiled general-purpose event engine, in its quickest form.

A process draws the arrivals and an event ends each session. The model's annotations are read by
that engine's compiler and so are not postponed here.
"""

import cimba as cb
import numpy as np
from cimba import inputs


class LossModel(cb.Model):  # type: ignore[misc]
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


_MODEL = LossModel()


def with_compiled_engine(arrivals: int, seed: int) -> tuple[int, int]:
    """One replication of about so many arrivals; (arrivals, refused)."""
    window = cb.Window(warmup=0, duration=arrivals * 20.0)
    done = cb.Experiment(_MODEL, replications=1, window=window, seed=seed).run()
    return int(np.sum(done[_MODEL].asked)), int(np.sum(done[_MODEL].refused))


# Its compiler has to run before our own compiled functions are loaded: numba's extensions of the
# two do not mix in the other order.
with_compiled_engine(1000, 0)
