"""A simulated directory: made-up people in groups, who join and leave as days go by."""

from __future__ import annotations

import hashlib
import io
import json
from collections.abc import Mapping
from dataclasses import dataclass

from idle_harbor.formats.directory.csv_people import write_csv
from idle_harbor.formats.directory.ldif_people import write_ldif
from idle_harbor.formats.directory.records import PersonRow
from idle_harbor.formats.directory.scim_people import scim_values

_FIRST = (
    "Abla",
    "Borin",
    "Cael",
    "Dorte",
    "Eilo",
    "Fenna",
    "Garo",
    "Hessa",
    "Ivor",
    "Jolle",
    "Kesta",
    "Lorcan",
    "Mirel",
    "Nuala",
    "Odran",
    "Pella",
    "Quim",
    "Rosk",
    "Senna",
    "Tavi",
    "Una",
    "Velko",
    "Wyne",
    "Xara",
    "Yorick",
    "Zanna",
    "Aoibh",
    "Brannoc",
    "Clíona",
    "Dónal",
)
_LAST = (
    "Ashgrove",
    "Brackwell",
    "Carrowmore",
    "Dunlin",
    "Eskerton",
    "Fallowmere",
    "Glasheen",
    "Harrowby",
    "Inchmoor",
    "Jessop",
    "Killarden",
    "Lissadale",
    "Moorhen",
    "Nethercote",
    "Ó Brolcháin",
    "Pendragh",
    "Quillfeather",
    "Rathmore",
    "Saltmarsh",
    "Tolka",
    "Underhill",
    "Varrow",
    "Weirwood",
    "Yarrowby",
)


@dataclass(frozen=True, slots=True)
class DirectoryPlan:
    """How many people each group has, who share groups, and which groups hold others.

    ``shared`` counts people of exactly these groups; ``alone`` are in no group at all.
    """

    groups: Mapping[str, int]
    shared: Mapping[tuple[str, ...], int]
    nested: Mapping[str, tuple[str, ...]]
    alone: int
    domain: str


def _draw(*key: object) -> int:
    text = "\x1f".join(map(str, key))
    return int.from_bytes(hashlib.blake2b(text.encode(), digest_size=8).digest(), "little")


class SimulatedDirectory:
    """A directory of made-up people; the same day always answers the same."""

    def __init__(self, plan: DirectoryPlan, *, scale: int = 1) -> None:
        self._plan = plan
        self._scale = scale

    def _person(self, number: int) -> PersonRow:
        first = _FIRST[_draw("first", number) % len(_FIRST)]
        last = _LAST[_draw("last", number) % len(_LAST)]
        key = f"q{number:05d}"
        return PersonRow(0, key, key, f"{first} {last}", f"{key}@{self._plan.domain}")

    def people(self, day: int = 0) -> tuple[list[PersonRow], dict[str, list[str]]]:
        """People and the keys in each group on a day.

        Each day after the first a person or two leave every larger group and others join.
        """
        plan = self._plan
        members: dict[str, list[str]] = {name: [] for name in plan.groups}
        number = 0
        chosen: list[int] = []

        def take(names: tuple[str, ...], count: int) -> None:
            nonlocal number
            for _ in range(count):
                number += 1
                chosen.append(number)
                for name in names:
                    members[name].append(f"q{number:05d}")

        for names, count in plan.shared.items():
            take(names, count * self._scale)
        for name, count in plan.groups.items():
            inside = sum(c for names, c in plan.shared.items() if name in names)
            take((name,), (count - inside) * self._scale)
        take((), plan.alone * self._scale)
        gone: set[str] = set()
        for past in range(1, day + 1):
            for name, count in plan.groups.items():
                if count < 60:
                    continue
                for _ in range(1 + _draw("leaves", past, name) % 2):
                    place = _draw("who", past, name, len(gone)) % len(members[name])
                    gone.add(members[name].pop(place))
                take((name,), 1 + _draw("joins", past, name) % 3)
        people = [self._person(n) for n in chosen if f"q{n:05d}" not in gone]
        kept = {person.key for person in people}
        left = {name: [key for key in keys if key in kept] for name, keys in members.items()}
        return people, left

    def _nested(self) -> dict[str, list[str]]:
        return {name: list(inner) for name, inner in self._plan.nested.items()}

    def as_csv(self, day: int = 0) -> bytes:
        """One row per person; CSV knows no groups in groups, so theirs are written out."""
        people, members = self.people(day)
        of_person: dict[str, list[str]] = {}
        for name, keys in members.items():
            for key in keys:
                of_person.setdefault(key, []).append(name)
        for outer, inner in self._nested().items():
            for key in dict.fromkeys(key for name in inner for key in members[name]):
                of_person[key].append(outer)
        text = io.StringIO(newline="")
        write_csv(text, people, of_person)
        return text.getvalue().encode()

    def as_ldif(self, day: int = 0) -> bytes:
        """LDIF records; names outside ASCII come out as base64."""
        people, members = self.people(day)
        file = io.BytesIO()
        base = ",".join(f"dc={part}" for part in self._plan.domain.split("."))
        write_ldif(file, base, people, members, self._nested())
        return file.getvalue()

    def as_scim(self, day: int = 0) -> bytes:
        """A SCIM list response."""
        people, members = self.people(day)
        return json.dumps(scim_values(people, members, self._nested()), ensure_ascii=False).encode()
