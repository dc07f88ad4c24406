"""Values as the API writes them."""

from datetime import date
from decimal import Decimal

import numpy as np
import orjson
import pytest

from idle_harbor.web.help.models import Health
from idle_harbor.web.shared.asked import to_json


def test_values_are_written_in_the_form_their_schema_tells():
    health = Health(database="ok", engine="abc", process=7)
    values = {
        "array": np.array([0.25, 1e-9, np.nan]),
        "whole": np.arange(3),
        "money": Decimal("12.40"),
        "day": date(2027, 3, 1),
        "model": health,
        "pair": (1, None),
    }
    assert orjson.loads(to_json(values)) == {
        "array": [0.25, 1e-9, None],
        "whole": [0, 1, 2],
        "money": "12.40",
        "day": "2027-03-01",
        "model": {"database": "ok", "engine": "abc", "process": 7},
        "pair": [1, None],
    }


def test_what_has_no_form_is_told_and_not_guessed():
    with pytest.raises(TypeError, match=r"not JSON serializable"):
        to_json({"what": object()})
