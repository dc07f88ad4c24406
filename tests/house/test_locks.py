"""One lock: what is shipped is what is tested."""

import re
import tomllib

import pytest

from idle_harbor.runtime import CHECKOUT

FOLDER = CHECKOUT / "requirements"


def pinned(name: str) -> dict[str, tuple[str, frozenset[str]]]:
    """The version and the hashes of each package in a lock file."""
    text = (FOLDER / f"{name}.txt").read_text("utf-8")
    found = {}
    for entry in re.split(r"\n(?=[a-z])", text):
        if match := re.match(r"([a-z0-9.-]+)(?:\[.*?\])?==(\S+)", entry):
            found[match[1]] = match[2], frozenset(re.findall(r"sha256:[0-9a-f]{64}", entry))
    return found


@pytest.mark.parametrize("name", ["app", "machines"])
def test_what_ships_is_part_of_what_is_tested(name):
    tested = pinned("test")
    for package, pin in pinned(name).items():
        assert package in tested and same(pin, tested[package]), package


def same(one: tuple[str, frozenset[str]], other: tuple[str, frozenset[str]]) -> bool:
    """Whether two pins are of one version; a registry may not list all files of it each time."""
    return one[0] == other[0] and bool(one[1] & other[1])


def test_what_the_benchmark_shares_with_the_tests_is_the_same():
    tested = pinned("test")
    shared = {name: pin for name, pin in pinned("bench").items() if name in tested}
    assert len(shared) > 30
    assert [name for name, pin in shared.items() if not same(pin, tested[name])] == []


def test_the_lock_has_the_versions_that_are_asked_for():
    project = tomllib.loads((CHECKOUT / "pyproject.toml").read_text("utf-8"))["project"]
    asked = [*project["dependencies"], *project["optional-dependencies"]["test"]]
    tested = pinned("test")
    for each in asked:
        name, _, version = re.sub(r"\[.*?\]", "", each).partition("==")
        assert name in tested, each
        assert version in ("", tested[name][0]), each
