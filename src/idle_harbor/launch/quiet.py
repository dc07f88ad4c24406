"""The scheduler and the computing processes of dask.distributed, without the pages they serve.

``python -m idle_harbor.launch.quiet scheduler|worker`` takes the arguments of their own commands.
"""

from __future__ import annotations

import sys
from typing import Any

from distributed import Worker
from distributed.node import ServerNode


def _no_pages(*_: Any, **__: Any) -> None:
    """Every node would serve pages on another port, whatever it is told of its dashboard."""


class QuietWorker(Worker):
    """A computing process that serves no pages."""

    start_http_server = _no_pages


def main() -> None:
    """Become what the first argument names."""
    what = sys.argv.pop(1)
    node: Any = ServerNode
    node.start_http_server = _no_pages
    if what == "scheduler":
        from distributed.cli.dask_scheduler import main as become

        sys.argv.append("--no-dashboard")
    else:
        from distributed.cli.dask_worker import main as become
    become()


if __name__ == "__main__":
    main()
