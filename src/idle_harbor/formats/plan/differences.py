"""What one revision of a plan changed, each place as people call it."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from idle_harbor.core.plan.table import list_keys
from idle_harbor.formats.plan.merge import changes


def _singular(word: str) -> str:
    if word.endswith("ies"):
        return f"{word[:-3]}y"
    return word[:-1] if word.endswith("s") and not word.endswith("ss") else word


def _words(field: str) -> str:
    return field.replace("_", " ")


def _item(items: Any, name: str, key: str) -> Any:
    """The thing of a list that a key stands for."""
    if not isinstance(items, list):
        return None
    fields = list_keys().get(name, ("id",))
    for item in items:
        if isinstance(item, dict):
            found = [item.get(field) for field in fields]
            if " ".join(str(value) for value in found if value is not None) == key:
                return item
    return items[int(key)] if key.isdigit() and int(key) < len(items) else None


def place_in_words(path: str, *documents: Any) -> str:
    """A place of a plan document, such as ``pool Office, session limit``.

    Args:
        path: where it is, with things of lists by their keys.
        documents: plans that have what stands there; the first that has it tells its name.
    """
    said: list[str] = []
    here: list[Any] = list(documents)
    within = ""
    for part in path.strip("/").split("/"):
        key = part.replace("~1", "/").replace("~0", "~")
        if within:
            items = [_item(each, within, key) for each in here]
            names = (each["name"] for each in items if isinstance(each, dict) and each.get("name"))
            said[-1] = f"{_singular(_words(within))} {next(names, key)}"
            here, within = items, ""
            continue
        here = [each.get(key) if isinstance(each, dict) else None for each in here]
        within = key if any(isinstance(each, list) for each in here) else ""
        said.append(_words(key))
    return ", ".join(said)


def revision_changes(before: Any, after: Any) -> Iterator[tuple[str, Any, Any]]:
    """Every place where a revision differs from the one before: in words, with both values.

    A value that is not there is ``merge.MISSING``.
    """
    for change in changes(before, after, before):
        yield place_in_words(change.path, after, before), change.base, change.yours
