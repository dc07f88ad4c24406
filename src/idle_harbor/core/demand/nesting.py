"""Groups in groups: circles among them."""

from __future__ import annotations

from collections.abc import Iterable


def circle_among(nestings: Iterable[tuple[str, str]]) -> list[str] | None:
    """A circle of groups, each holding the next and the last the first; None where there is none.

    Depth-first search without recursion: a chain of groups may be long.
    """
    inner: dict[str, list[str]] = {}
    for parent, child in nestings:
        inner.setdefault(parent, []).append(child)
    done: set[str] = set()
    for begin in inner:
        if begin in done:
            continue
        path: list[str] = [begin]
        on_path = {begin}
        left = [iter(inner[begin])]
        while left:
            child = next(left[-1], "")
            if not child:
                left.pop()
                done.add(path[-1])
                on_path.discard(path.pop())
            elif child in on_path:
                return path[path.index(child) :]
            elif child not in done:
                path.append(child)
                on_path.add(child)
                left.append(iter(inner.get(child, ())))
    return None
