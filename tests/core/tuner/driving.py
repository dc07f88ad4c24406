"""Who works out what a search asks for, in tests."""


def driven(asking, work):
    """What it ends with, each round of trials worked out."""
    found = None
    while True:
        try:
            trials = asking.send(found)
        except StopIteration as over:
            return over.value
        found = work(trials)
