"""What reads plans is cached on disk, and is what the declarations say."""

import os
import pickle

import pytest
from pydantic_core import ValidationError

from idle_harbor.formats.plan import reader
from idle_harbor.formats.plan.building import plan_schemas
from tests.core.plans import document


@pytest.fixture
def place(tmp_path, monkeypatch):
    """A cache of the test's own, still empty."""
    path = tmp_path / "cache" / "plan.pickle"
    monkeypatch.setattr(reader, "_place", lambda: path)
    reader.plan_reader.cache_clear()
    yield path
    reader.plan_reader.cache_clear()


def anew():
    reader.plan_reader.cache_clear()
    return reader.plan_reader()


def test_the_cached_one_reads_and_writes_as_the_derived_one(place):
    derived = anew()
    assert place.exists()
    cached = anew()
    assert cached is not derived and cached.json_schema == derived.json_schema
    assert cached.read(document()) == derived.read(document())
    assert cached.write(cached.read(document())) == derived.write(derived.read(document()))
    wrong = {**document(), "pools": [{"id": "X", "size": 3}], "more": 1}
    told = []
    for each in (cached, derived):
        with pytest.raises(ValidationError) as found:
            each.read(wrong)
        told.append([(e["loc"], e["type"]) for e in found.value.errors()])
    assert told[0] == told[1] and len(told[0]) > 3


def test_it_is_read_and_not_derived_again(place, monkeypatch):
    anew()
    monkeypatch.setattr(reader, "_derived", lambda place: pytest.fail("derived again"))
    assert anew().read(document()).pools


@pytest.mark.parametrize("broken", [b"", b"no pickle", pickle.dumps(3)])
def test_a_broken_file_is_made_anew(place, broken):
    place.parent.mkdir()
    place.write_bytes(broken)
    assert anew().read(document()).pools
    assert pickle.loads(place.read_bytes())[1] == plan_schemas()[1]


def test_a_file_of_another_user_is_not_trusted(place, monkeypatch):
    anew()
    # Whoever is not its owner, nor finds it root's, derives it anew.
    if os.geteuid() == 0:
        os.chown(place, 12_345, 12_345)
    else:
        monkeypatch.setattr(os, "geteuid", lambda: 12_345)
    assert reader._cached(place) is None
    assert anew().read(document()).pools


def test_a_folder_that_cannot_be_written_is_no_hindrance(place):
    place.parent.write_text("no folder")
    assert anew().read(document()).pools
