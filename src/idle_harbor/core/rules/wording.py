"""What every family of plan rules says in the same words."""

from __future__ import annotations

from collections.abc import Collection, Iterator, Sequence

from idle_harbor.core.errors import Fault, some_of


def missing(pointer: str, kind: str, name: str, known: Collection[str]) -> Iterator[Fault]:
    """A fault where a name is not among the known ones."""
    if name not in known:
        has = some_of(known, name)
        yield Fault(
            pointer, f"there is no {kind} '{name}'", f"name one that exists ({has}) or add it"
        )


def repeated(
    pointer: str, names: Sequence[str], field: str = "id", word: str = "id"
) -> Iterator[Fault]:
    """A fault for every name that has been used before."""
    if len(set(names)) == len(names):
        return
    seen: set[str] = set()
    for index, name in enumerate(names):
        if name in seen:
            yield Fault(
                f"{pointer}/{index}/{field}".rstrip("/"),
                f"the {word} '{name}' is used twice",
                "give each its own id" if word == "id" else "keep one of the two",
            )
        seen.add(name)
