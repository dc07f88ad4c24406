"""Functions that one can read at a glance: how long they may be, and how much they may be given.

Those that were larger when this came are listed in ``large_functions.txt``: none may be added, none
may grow, and one that has become small is taken from the list.
"""

import ast
from collections.abc import Iterator
from pathlib import Path

from idle_harbor.runtime import CHECKOUT

MOST_LINES, MOST_PARAMETERS = 40, 6
LIST = Path(__file__).with_name("large_functions.txt")


def functions(tree: ast.AST, path: str = "") -> Iterator[tuple[str, ast.FunctionDef]]:
    """Every function of a module by its qualified name."""
    for node in ast.iter_child_nodes(tree):
        inside = path
        if isinstance(node, ast.FunctionDef | ast.AsyncFunctionDef | ast.ClassDef):
            inside = f"{path}.{node.name}" if path else node.name
            if not isinstance(node, ast.ClassDef):
                yield inside, node
        yield from functions(node, inside)


def size_of(function: ast.FunctionDef) -> tuple[int, int]:
    """Its lines from ``def`` to its end, and its parameters without the object itself."""
    given = function.args
    names = [each.arg for each in (*given.posonlyargs, *given.args, *given.kwonlyargs)]
    count = sum(name not in ("self", "cls") for name in names)
    count += sum(each is not None for each in (given.vararg, given.kwarg))
    return (function.end_lineno or function.lineno) - function.lineno + 1, count


def large_functions(folder: str) -> dict[str, tuple[int, int]]:
    found = {}
    for source in sorted((CHECKOUT / folder).rglob("*.py")):
        for name, function in functions(ast.parse(source.read_text("utf-8"))):
            lines, parameters = size_of(function)
            if lines > MOST_LINES or parameters > MOST_PARAMETERS:
                found[f"{source.relative_to(CHECKOUT).as_posix()}:{name}"] = lines, parameters
    return found


def listed() -> dict[str, tuple[int, int]]:
    rows = (line.split() for line in LIST.read_text("utf-8").splitlines() if line[:1] != "#")
    return {name: (int(lines), int(parameters)) for name, lines, parameters in rows}


def test_a_size_is_counted():
    (name, function), (inner, _) = functions(
        ast.parse("class A:\n def f(self, a, *b, c=1, **d):\n  def g():\n   pass\n  return g")
    )
    assert (name, inner) == ("A.f", "A.f.g")
    assert size_of(function) == (4, 4)


def test_no_function_is_too_large_but_those_that_were():
    now, before = large_functions("src") | large_functions("benchmarks"), listed()
    more = {name: size for name, size in now.items() if name not in before}
    assert more == {}, "make them smaller: 40 lines and 6 parameters are the most"
    grown = {n: (before[n], s) for n, s in now.items() if any(map(int.__gt__, s, before[n]))}
    assert grown == {}, "they are on the list of what is too large already, and have grown"


def test_the_list_holds_none_that_has_become_small():
    now = large_functions("src") | large_functions("benchmarks")
    assert sorted(set(listed()) - set(now)) == [], "take them from the list"
    stale = {name: size for name, size in listed().items() if size != now[name]}
    assert stale == {}, "they have become smaller: write down their sizes of now"


def test_only_tables_of_numbers_are_kept_from_the_formatter():
    """A ``fmt: skip`` stands at a statement with many numbers, which columns make readable."""
    mark = "# fmt: " + "skip"
    found = []
    for folder in ("src", "tests", "benchmarks"):
        for source in (CHECKOUT / folder).rglob("*.py"):
            text = source.read_text("utf-8")
            assert ("# fmt: " + "off") not in text, source
            for number, line in enumerate(text.split("\n"), 1):
                if mark in line:
                    found.append((source, number, statement_ending(text, number)))
    for source, number, statement in found:
        values = [n.value for n in ast.walk(statement) if isinstance(n, ast.Constant)]
        numbers = [v for v in values if isinstance(v, int | float) or is_money(v)]
        assert len(numbers) >= 12, (source, number, len(numbers))
    assert found


def is_money(value: object) -> bool:
    return isinstance(value, str) and value.replace(".", "", 1).isdecimal()


def statement_ending(text: str, line: int) -> ast.AST:
    """The smallest statement, or decorator, that ends at a line."""
    nodes = list(ast.walk(ast.parse(text)))
    found: list[ast.stmt | ast.expr] = [n for n in nodes if isinstance(n, ast.stmt)]
    found += [each for n in nodes for each in getattr(n, "decorator_list", [])]
    return min((n for n in found if n.end_lineno == line), key=lambda n: line - n.lineno)
