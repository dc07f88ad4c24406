"""Records that compiled loops share: a class declares the fields, and what each of them means.

A record is laid out as C lays out a struct, its fields in the order of their declaration. Compiled
functions hand each other records alone, which are pointers: a named tuple of thirty arrays was
copied at every call and cost ten times the run.
"""

from __future__ import annotations

from typing import Annotated, Any, get_type_hints

import numpy as np
from llvmlite import ir
from numba import from_dtype, types
from numba.extending import intrinsic
from numba.np.arrayobj import populate_array

from idle_harbor.core.base.compiled import CHECKED

#: Whole numbers of 8, 4, 2 and 1 bytes, and a real one.
Long = Annotated[int, "i8"]
Int = Annotated[int, "i4"]
Short = Annotated[int, "i2"]
Byte = Annotated[int, "i1"]
Real = Annotated[float, "f8"]
#: Where a table begins (see ``arena``).
Address = Annotated[int, "i8"]


def layout(record: type) -> np.dtype[np.void]:
    """The layout of a declared record; a field may be a record itself.

    Raises TypeError where a field has a type that is not one of the above.
    """
    fields: list[tuple[Any, ...]] = []
    for name, kind in get_type_hints(record, include_extras=True).items():
        told = getattr(kind, "__metadata__", None)
        if told is None and not get_type_hints(kind):
            raise TypeError(f"{record.__name__}.{name} says nothing of its size")
        fields.append((name, *told) if told else (name, layout(kind)))
    return np.dtype(fields, align=True)


def _true_count(context: Any, builder: Any, address: Any, count: Any, size: Any) -> Any:
    """In the checked build: the items that the table has (see ``arena``), an error where they are
    asked for as more or fewer."""
    word = ir.IntType(64)
    begin = builder.sub(address, ir.Constant(word, 8))
    held = builder.load(builder.inttoptr(begin, word.as_pointer()))
    true = builder.sdiv(held, size)
    with builder.if_then(builder.icmp_signed("!=", true, count), likely=False):
        context.call_conv.return_user_exc(builder, IndexError, ("a table is of another size",))
    return true


def table_of(item: types.Type) -> Any:
    """An intrinsic that views ``count`` items at an address as an array, without owning it."""
    array = types.Array(item, 1, "C")

    @intrinsic  # type: ignore[untyped-decorator]
    def view(typingctx: Any, address: Any, count: Any) -> Any:
        def codegen(context: Any, builder: Any, signature: Any, args: Any) -> Any:
            kind = context.get_data_type(item)
            made = context.make_array(array)(context, builder)
            size = context.get_constant(types.intp, context.get_abi_sizeof(kind))
            count = args[1]
            if CHECKED:
                count = _true_count(context, builder, args[0], count, size)
            populate_array(
                made,
                data=builder.inttoptr(args[0], kind.as_pointer()),
                shape=[count],
                strides=[size],
                itemsize=size,
                meminfo=None,
            )
            return made._getvalue()

        return array(types.int64, types.int64), codegen

    return view


def record_at(kind: types.Record) -> Any:
    """An intrinsic that views the record at an address: for who calls from outside, since to hand
    over a record itself is to describe every one of its fields anew."""

    @intrinsic  # type: ignore[untyped-decorator]
    def view(typingctx: Any, address: Any) -> Any:
        def codegen(context: Any, builder: Any, signature: Any, args: Any) -> Any:
            return builder.inttoptr(args[0], context.get_value_type(kind))

        return kind(types.int64), codegen

    return view


@intrinsic  # type: ignore[untyped-decorator]
def prefetch(typingctx: Any, address: Any) -> Any:
    """Ask the processor to fetch the memory at an address, which is written soon.

    It is only a hint: it changes no value, and any address is allowed.
    """

    def codegen(context: Any, builder: Any, signature: Any, args: Any) -> Any:
        byte, word = ir.IntType(8).as_pointer(), ir.IntType(32)
        hint = builder.module.declare_intrinsic(
            "llvm.prefetch", [byte], ir.FunctionType(ir.VoidType(), [byte, word, word, word])
        )
        place = builder.inttoptr(args[0], byte)
        builder.call(hint, [place, *(ir.Constant(word, what) for what in (1, 3, 1))])
        return context.get_dummy_value()

    return types.void(types.int64), codegen


def rows_of(record: type) -> Any:
    """:func:`table_of` a declared record."""
    return table_of(from_dtype(layout(record)))


longs = table_of(types.int64)
ints = table_of(types.int32)
words = table_of(types.uint64)
shorts = table_of(types.int16)
bytes_ = table_of(types.int8)
reals = table_of(types.float64)
