"""``python -m idle_harbor.cli``: what the one command hands over to."""

from __future__ import annotations

from idle_harbor.cli import main

main(prog_name="./idle-harbor")
