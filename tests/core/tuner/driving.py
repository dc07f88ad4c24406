"""Who works out what a search asks for, in tests."""

from idle_harbor.core.tuner.scoring.scores import Score


def driven(asking, work):
    """What it ends with, each round of trials worked out."""
    found = None
    while True:
        try:
            trials = asking.send(found)
        except StopIteration as over:
            return over.value
        found = work(trials)


def scored(money, refused=0.0, *, wait=30.0, lost=None, comfort=1.0, spoiled=0.0):
    """What one week comes to: nothing strained, nobody who left."""
    promised = (wait, wait, None, None, refused, 0.0, lost, None, None, comfort)
    return Score(money, money, money, spoiled, promised, promised)
