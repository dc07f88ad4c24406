"""Words one after the other."""

from __future__ import annotations

from collections.abc import Sequence


def listed(words: Sequence[str], last: str = "and") -> str:
    """Join words as a sentence does: a, b and c; ``last`` stands before the last of them."""
    return f" {last} ".join([", ".join(words[:-1]), words[-1]] if len(words) > 1 else words)
