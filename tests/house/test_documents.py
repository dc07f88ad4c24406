"""What documents name is there: files, folders and pages that they link."""

import re
from pathlib import Path

import pytest

CHECKOUT = Path(__file__).resolve().parents[2]
FOLDERS = ("src", "tests", "benchmarks", "docs", "frontend/src", ".ci")
#: Where a path may begin.
BASES = ("", "src/", "src/idle_harbor/", "src/idle_harbor/core/", "frontend/", "frontend/src/")
LINK = re.compile(r"\]\(([^)#:\s]+)(?:#[^)]*)?\)")
NAME = re.compile(r"`((?:[\w.-]+/)+[\w.-]*|[\w-]+\.(?:py|ts|vue|sql|md|json|toml))`")
#: Kinds of content, and what a run makes.
NO_PATHS = ("application/", "var/")
DOCUMENTS = [CHECKOUT / "README.md", *sorted((CHECKOUT / "docs").rglob("*.md"))]
DOCUMENTS.append(CHECKOUT / "src/idle_harbor/core/README.md")

THERE = [path for folder in FOLDERS for path in (CHECKOUT / folder).rglob("*")]
NAMES = {path.name for path in THERE} | {path.name for path in CHECKOUT.iterdir()}


def is_there(name: str, document: Path) -> bool:
    """A name alone is that of any file or folder; a path leads to one."""
    if "/" not in name.rstrip("/"):
        return name.rstrip("/") in NAMES
    places = [CHECKOUT / base / name for base in BASES]
    return any(place.exists() for place in (*places, document.parent / name))


@pytest.mark.parametrize("document", DOCUMENTS, ids=lambda each: each.name)
def test_what_a_document_names_is_there(document):
    text = document.read_text("utf-8")
    names = {*LINK.findall(text), *NAME.findall(text)}
    named = {name for name in names if not name.startswith(NO_PATHS)}
    assert sorted(name for name in named if not is_there(name, document)) == []


@pytest.mark.parametrize(
    "decision", sorted((CHECKOUT / "docs/decisions").glob("*.md")), ids=lambda each: each.name
)
def test_a_decision_says_whether_it_is_in_force(decision):
    assert decision.read_text("utf-8").splitlines()[2].startswith("Status: ")


def test_a_name_that_is_not_there_is_found():
    assert not is_there("core/nothing.py", DOCUMENTS[0])
    assert not is_there("nothing.py", DOCUMENTS[0])
    assert is_there("policy/decide.py", DOCUMENTS[0])
