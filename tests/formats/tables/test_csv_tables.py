"""CSV tables: cells that are no formulas, whole numbers, and texts that are no tables."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from idle_harbor.core.errors import PlanError
from idle_harbor.formats.tables.rows import (
    guarded,
    read_table,
    unguarded,
    whole_number,
    write_table,
)


@given(st.text(max_size=20))
def test_a_guarded_cell_is_no_formula_and_comes_back(cell):
    written = guarded(cell)
    assert unguarded(written) == cell
    assert not written.startswith(("=", "@", "\t", "\r"))


@pytest.mark.parametrize(
    ("cell", "written"),
    [
        ("=cmd|' /C calc'!A0", "'=cmd|' /C calc'!A0"),
        ("@SUM(A1)", "'@SUM(A1)"),
        ("+1+1", "'+1+1"),
        ("-1+1", "'-1+1"),
        ("-3.5", "-3.5"),
        ("+4e-2", "+4e-2"),
        ("plain", "plain"),
        ("'quoted", "'quoted"),
        ("'=x", "''=x"),
        ("", ""),
    ],
)
def test_by_hand(cell, written):
    assert guarded(cell) == written
    assert unguarded(written) == cell


names = st.text(st.characters(blacklist_categories=("Cs", "Cc")), min_size=1, max_size=8)


@given(st.lists(st.fixed_dictionaries({"a": names, "b": names}), max_size=5))
def test_a_table_goes_round(rows):
    stripped = [{name: cell.strip() for name, cell in row.items()} for row in rows]
    found = read_table(write_table(["a", "b"], stripped), ["a"])
    assert [cells for _, cells in found] == stripped


@pytest.mark.parametrize(("text", "number"), [
    ("0", 0), ("17", 17), ("1000000000", 10**9), ("1000000001", None), ("²", None), ("٣", None),
    ("-1", None), ("1.0", None), ("", None), ("9" * 5_000, None), ("1_0", None),
])  # fmt: skip
def test_whole_numbers(text, number):
    assert whole_number(text) == number


@pytest.mark.parametrize("text", ['a,b\n"x', "a,b\n" + "x" * 140_000, "b\n1\n", ""])
def test_what_is_no_table_says_so(text):
    with pytest.raises(PlanError):
        list(read_table(text, ["a"]))
