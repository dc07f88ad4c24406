"""How core functions are compiled: cached on disk, without the GIL, C-like division.

They run without numba's reference counting: they allocate nothing, and their callers keep every
table alive. Counting references on each call made the loop many times slower.

An index never counts from the end: numba's look for that at every access cost a tenth of a run.

In the **checked build** (numba's switch for it is on, see ``runtime.prepare_engine``) every index
is compared with its table's true size, negative ones included, and tables are asked for at the
size they have. The tests run the rules of the job in it; it is some times slower.

A function is compiled, or loaded from the cache, when it is first called. The import of a module
loads nothing: to load one function takes some 40 ms, and a week needs a handful of the hundred
functions, since the others are linked into those.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import Any, TypeVar

from numba import config
from numba.core import types
from numba.core.compiler_lock import global_compiler_lock
from numba.core.registry import CPUDispatcher
from numba.np import arrayobj

#: Whether this process runs the checked build.
CHECKED = bool(config.BOUNDSCHECK)


def _as_it_is(context: Any, builder: Any, kind: Any, index: Any, size: Any) -> Any:
    """Indexes that count from the end are faults; no compiled function means them."""
    return context.cast(builder, index, kind, types.intp if kind.signed else types.uintp)


#: What numba itself does with an index (a test tells when this need not be replaced any more).
NUMBAS_INDEX = arrayobj.fix_integer_index
arrayobj.fix_integer_index = _as_it_is

F = TypeVar("F", bound=Callable[..., Any])


class Step(CPUDispatcher):  # type: ignore[misc]
    """A compiled function; one with a declared signature has no other."""

    declared: Any = None
    entry: bool = False

    def ready(self) -> None:
        """Compile the declared signature, or load it, unless that is done."""
        if self.declared is None or not self._can_compile:
            return
        with global_compiler_lock:
            # Another thread may have held the lock for this very function.
            if self._can_compile:
                self.compile(self.declared)
                self.disable_compile()

    def get_call_template(self, args: Any, kws: Any) -> Any:
        """Numba asks this of a function that another one calls, while it compiles that one."""
        self.ready()
        return super().get_call_template(args, kws)

    def _compile_for_args(self, *args: Any, **kws: Any) -> Any:
        """Numba asks this of a call whose types it has not seen."""
        if self.declared is None:
            return super()._compile_for_args(*args, **kws)
        self.ready()
        [(wanted, made)] = self.overloads.items()
        given = [self.typeof_pyval(each) for each in args]
        fits = [self.typingctx.can_convert(a, b) for a, b in zip(given, wanted, strict=True)]
        if kws or None in fits:
            self._explain_matching_error(*args, **kws)
        return made.entry_point


#: Every function that was declared, in order of declaration.
STEPS: list[Step] = []


def compiled(
    signature: Any = None, *, inline: bool = False, entry: bool = False
) -> Callable[[F], F]:
    """Compile with numba at the first call; with a signature for that alone.

    ``inline`` asks LLVM to always inline the function into its callers. Python calls an ``entry``;
    other functions are called by compiled ones.
    """

    def wrap(function: F) -> F:
        options = {
            "nopython": True,
            "nogil": True,
            "error_model": "numpy",
            "_nrt": False,
            "boundscheck": None,
            "forceinline": inline,
            # Nobody calls them as C functions.
            "no_cfunc_wrapper": True,
        }
        step = Step(py_func=function, targetoptions=options)
        step.enable_caching()
        step.declared, step.entry = signature, entry
        STEPS.append(step)
        return step

    return wrap


def entries_ready() -> None:
    """Compile, or load, every function of the imported modules that Python calls."""
    for step in STEPS:
        if step.entry:
            step.ready()
