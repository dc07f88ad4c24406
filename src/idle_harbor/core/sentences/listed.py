"""Words one after the other."""

from __future__ import annotations

from collections.abc import Sequence


def listed(words: Sequence[str]) -> str:
    """Join words as a sentence does: a, b and c."""
    return " and ".join([", ".join(words[:-1]), words[-1]] if len(words) > 1 else words)
