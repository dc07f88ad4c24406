"""The same use cases without a browser, a file for each group of verbs."""

from __future__ import annotations

from idle_harbor.cli import figures, hosts, jobs, plans, running, tuning
from idle_harbor.cli.shared import main

__all__ = ["figures", "hosts", "jobs", "main", "plans", "running", "tuning"]
