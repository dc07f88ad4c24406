"""Debian's Chromium for browser tests, benchmarks and screenshots."""

from __future__ import annotations

import shutil

from idle_harbor.launch.tools import LaunchError, install_debian

#: Without these it looks for hosts of its maker at every start, which a closed network refuses.
ARGUMENTS = (
    "--no-sandbox",
    "--disable-gpu",
    "--disable-quic",
    "--no-first-run",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
)


def chromium() -> str:
    """The path of Chromium, installed where missing and allowed."""
    found = shutil.which("chromium")
    if found is None:
        install_debian(["chromium"], what="Chromium for the browser tests")
        found = shutil.which("chromium")
    if found is None:
        raise LaunchError("Chromium was installed but is not on the PATH")
    return found
