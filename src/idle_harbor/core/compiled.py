"""How core functions are compiled: cached on disk, without the GIL, C-like division.

They run without numba's reference counting: they allocate nothing, and their callers keep every
table alive. Counting references on each call made the loop many times slower.

An index never counts from the end: numba's look for that at every access cost a tenth of a run.

In the **checked build** (numba's switch for it is on, see ``runtime.prepare_engine``) every index
is compared with its table's true size, negative ones included, and tables are asked for at the
size they have. The tests run the rules of the job in it; it is some times slower.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import Any, TypeVar

from numba import config, njit
from numba.core import types
from numba.np import arrayobj

#: Whether this process runs the checked build.
CHECKED = bool(config.BOUNDSCHECK)


def _as_it_is(context: Any, builder: Any, kind: Any, index: Any, size: Any) -> Any:
    """Indexes that count from the end are faults; no compiled function means them."""
    return context.cast(builder, index, kind, types.intp if kind.signed else types.uintp)


arrayobj.fix_integer_index = _as_it_is

F = TypeVar("F", bound=Callable[..., Any])


def compiled(signature: Any = None, *, inline: bool = False) -> Callable[[F], F]:
    """Compile with numba; an explicit signature makes it happen at import, or from the cache.

    ``inline`` asks LLVM to always inline the function into its callers.
    """

    def wrap(function: F) -> F:
        options = {"cache": True, "nogil": True, "error_model": "numpy", "_nrt": False}
        options["forceinline"] = inline
        # Nobody calls them as C functions.
        options["no_cfunc_wrapper"] = True
        if signature is None:
            return njit(**options)(function)  # type: ignore[no-any-return]
        return njit(signature, **options)(function)  # type: ignore[no-any-return]

    return wrap
