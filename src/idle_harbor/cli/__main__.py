"""``python -m idle_harbor.cli``: what the one command hands over to."""

from __future__ import annotations

from idle_harbor.processes import imports_begin, imports_done

imports_begin()

from idle_harbor.cli import main  # noqa: E402

try:
    main(prog_name="./idle-harbor")
finally:
    imports_done()
