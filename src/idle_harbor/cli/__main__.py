"""``python -m idle_harbor.cli``: what the one command hands over to."""

from __future__ import annotations

import gc

# Imports make some hundred thousand objects that all stay: to look through them again and again
# takes a fifth of a quick verb.
gc.set_threshold(100_000, 20, 20)

from idle_harbor.cli import main  # noqa: E402

try:
    main(prog_name="./idle-harbor")
finally:
    # The end of the process would look through all of them once more.
    gc.freeze()
