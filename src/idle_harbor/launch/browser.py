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


#: The browser without windows, which takes half the time for a page, and the whole one.
_NAMES = ("chromium-headless-shell", "chromium")


def chromium() -> str:
    """The path of Chromium, installed where missing and allowed."""
    for look in (_found, _installed):
        if (path := look()) is not None:
            return path
    raise LaunchError("Chromium was installed but is not on the PATH")


def _found() -> str | None:
    return next(filter(None, map(shutil.which, _NAMES)), None)


def _installed() -> str | None:
    install_debian([_NAMES[0]], what="Chromium for the browser tests")
    return _found()
