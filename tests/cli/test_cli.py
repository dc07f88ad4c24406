"""The command line: one JSON object, exit code 2 and a line per fault."""

import json
import os
import re
import subprocess
import sys
from pathlib import Path

import pytest
from click.testing import CliRunner, Result

from idle_harbor.cli import main
from idle_harbor.core.figures.promise import PARTS, STANDINGS
from tests.core.plans import document

CHECKOUT = Path(__file__).parent.parent.parent
#: A verb as it is started by hand, in a process of its own.
STARTED = ("-m", "idle_harbor.cli")


def call(words: str, *more: str) -> Result:
    """A verb in this process: its words, and those that have a space in them."""
    return CliRunner().invoke(main, [*words.split(), *more], catch_exceptions=False)


def python(*arguments: str, **environment: str) -> subprocess.CompletedProcess[str]:
    return subprocess.run(
        [sys.executable, *arguments],
        capture_output=True,
        text=True,
        check=False,
        timeout=120,
        env={**os.environ, "PYTHONPATH": str(CHECKOUT / "src"), **environment},
    )


@pytest.fixture
def plan_file(tmp_path: Path) -> Path:
    path = tmp_path / "plan.json"
    path.write_text(json.dumps(document()))
    return path


def test_simulate_prints_one_json_object(plan_file):
    words = f"simulate {plan_file} --pool main --seeds 3 --json".split()
    done = python(*STARTED, *words, DATABASE_URL="postgresql://nowhere:1/none")
    assert done.returncode == 0, done.stderr
    got = json.loads(done.stdout)
    assert got["seeds"] == 3 and got["pool"] == "main"
    for name in ("arrivals", "connected", "refused", "strained_share"):
        assert set(got[name]) >= {"mean", "low", "high"}
    assert set(got["wait_seconds"]) == {"mean", "p50", "p95", "p99"}
    hours = got["host_hours"]
    parts = ("in_use", "lingering", "fragmentation", "readiness", "transit", "rounding")
    assert sum(hours[p]["mean"] for p in parts) == pytest.approx(hours["billed"]["mean"], abs=1e-4)
    cents = sum(round(float(line["amount"]) * 100) for line in got["cost"]["lines"])
    assert cents == round(float(got["cost"]["month"]) * 100)


def test_simulate_for_people(plan_file):
    done = call(f"simulate {plan_file} --pool main --seeds 2")
    assert "€" in done.stdout
    # Each part of the promise with its figure, its limit and how it stands.
    told = done.stdout.partition("The promise\n")[2].splitlines()
    assert [line.split("  ")[1] for line in told] == [part.title for part in PARTS]
    assert " at most 60 s: " in told[0] and " at least 90.00%: " in told[-1]
    promised = [line for line in told if not line.endswith("%, not promised")]
    assert all(line.rpartition(": ")[2] in STANDINGS for line in promised)
    assert len(promised) == len(PARTS) - 1


def test_simulate_replays_given_spells(plan_file, tmp_path):
    spells = tmp_path / "spells.csv"
    rows = [f"p{n},2027-03-02T09:00:00,2027-03-02T10:00:00,sign off" for n in range(5)]
    spells.write_text("\n".join(["person,start,end,leaving", *rows]))
    done = call(f"simulate {plan_file} --pool main --seeds 2 --json --spells {spells}")
    got = json.loads(done.stdout)
    assert got["arrivals"]["mean"] == 5 and got["connected"]["mean"] == 5
    assert got["host_hours"]["ideal"]["mean"] == 1.0


@pytest.mark.parametrize(
    ("arguments", "says"),
    [
        ("simulate PLAN --pool x", "no pool called 'x'"),
        ("simulate missing.json --pool x", "No such file"),
        ("simulate PLAN --pool main --spells missing.csv", "No such file"),
        ("validate missing.json", "No such file"),
        ("simulate PLAN", "--pool"),
        ("agenda PLAN --pool main --from 1900-01-01", "from 1971-01-01 to 2199-12-31"),
        ("nonsense", "No such command"),
    ],
)
def test_bad_input_is_exit_code_2_and_a_line(plan_file, arguments, says):
    done = call(arguments.replace("PLAN", str(plan_file)))
    assert done.exit_code == 2
    assert says in done.stderr and "Traceback" not in done.stderr


def test_a_started_verb_ends_with_its_code_and_says_why_on_stderr():
    done = python(*STARTED, "validate", "missing.json")
    assert (done.returncode, done.stdout) == (2, "")
    assert done.stderr == "missing.json: No such file or directory\n"


def test_validate_names_every_fault(plan_file):
    assert call(f"validate {plan_file}").exit_code == 0
    whole = document()
    whole["pools"][0]["session_limit"] = 0
    whole["sizes"][0]["hourly"] = "-2"
    plan_file.write_text(json.dumps(whole))
    done = call(f"validate {plan_file}")
    assert done.exit_code == 2
    assert len(done.stderr.strip().splitlines()) == 2
    assert "/pools/0/session_limit: session limit is 0" in done.stderr


def test_the_schema_is_the_one_in_docs_and_takes_the_demo():
    import jsonschema

    from idle_harbor.demo.scenario import demo_plan

    printed = json.loads(call("schema").stdout)
    assert printed == json.loads((CHECKOUT / "docs" / "plan.schema.json").read_text())
    jsonschema.validate(demo_plan(), printed)


def test_the_page_of_fields_is_the_one_in_docs():
    assert call("fields").stdout == (CHECKOUT / "docs" / "plan.md").read_text()


def test_a_schedule_is_edited_and_said_in_words(plan_file, tmp_path):
    place = ["schedule=main", "day_type=workday"]
    edited = call(f"edit {plan_file} add-target", *place)
    assert edited.exit_code == 0
    after = tmp_path / "after.json"
    after.write_text(edited.stdout)
    said = call(f"words {after} --pool main").stdout
    assert "  07:30 to 17:00: keep at least 4 of 10 hosts ready;" in said
    assert "  4 hosts are ready by 07:30 and for the rest of that band." in said
    assert "ready by" not in call(f"words {plan_file}").stdout
    head, first, *_ = call(f"words {after} --pool main --table").stdout.splitlines()
    assert head.startswith("main,Workday 00:00,Workday 07:30,Workday 17:00,Rest day 00:00")
    assert first == "Floor,0,4,0,0"
    told = document()
    notice = {"minutes": 5, "who": "everyone", "text": "=HYPERLINK(1)"}
    told["schedules"][0]["day_types"][0]["bands"][1] |= {
        "release": "drain with notice",
        "notice": notice,
    }
    plan_file.write_text(json.dumps(told))
    assert "'=HYPERLINK(1)" in call(f"words {plan_file} --table").stdout
    plan_file.write_text(json.dumps(document()))
    file = call(f"agenda {after} --pool main --days 2").stdout
    assert file.startswith("BEGIN:VCALENDAR") and file.count("4 hosts are ready") == 2
    assert call(f"agenda {after} --pool other").exit_code == 2
    met = call(f"targets {after} --pool main --seeds 3").stdout
    assert re.fullmatch(
        r"workday: 4 hosts by 07:30: in time 1[0-5] of 15 times; "
        r"those started for it stood idle \d+\.\d minutes before\n",
        met,
    )
    assert call(f"targets {plan_file} --pool main").stdout == ""
    unknown = call(f"words {plan_file} --pool other")
    assert unknown.exit_code == 2 and "no pool called 'other'" in unknown.stderr
    assert call(f"edit {plan_file} remove-target at=07:30", *place).exit_code == 2


def test_export_prints_a_stored_plan(database_address, monkeypatch):
    from idle_harbor.demo.load import load_demo

    load_demo(database_address)
    monkeypatch.setenv("DATABASE_URL", database_address)
    done = call("export", "Quillmoor Water")
    assert done.exit_code == 0, done.stderr
    assert json.loads(done.stdout)["name"] == "Quillmoor Water"
    missing = call("export Nowhere")
    assert missing.exit_code == 2 and "no stored plan called 'Nowhere'" in missing.stderr


def test_nothing_is_compiled_after_install(plan_file):
    """Every compiled function of a simulate comes from the cache, and only those that Python
    calls."""
    script = """
import sys
from idle_harbor.runtime import prepare_engine
prepare_engine()
from idle_harbor.core.engine.kernel.loop import run_loop
from idle_harbor.core.figures.ideal import _sweep
from idle_harbor.core import simulate
from idle_harbor.formats.plan.codec import parse_plan, checked
simulate(checked(parse_plan(open(sys.argv[1], 'rb').read())), 'main', 2)
from idle_harbor.core.base.compiled import STEPS
for function in (run_loop, _sweep):
    assert function.stats.cache_hits, function
used = [step for step in STEPS if step.overloads]
assert 5 < len(used) < 12, used
for step in used:
    assert step.entry and not step.stats.cache_misses, step
"""
    python(*STARTED, "compile")
    done = python("-c", script, str(plan_file))
    assert done.returncode == 0, done.stderr


@pytest.mark.parametrize(
    ("verb", "heavy"),
    [("validate PLAN", "icalendar"), ("words PLAN --pool main", "scipy"), ("schema", "holidays")],
)
def test_quick_verbs_import_little(verb, heavy, plan_file):
    """What takes longer to import than the verb takes to run is not imported."""
    call("schema")  # the reader of plans is in its cache
    script = """
import sys
from idle_harbor.cli import main
main(sys.argv[1:], standalone_mode=False)
print(*sys.modules, file=sys.stderr)
"""
    done = python("-c", script, *verb.replace("PLAN", str(plan_file)).split())
    heavies = {heavy, "numpy", "numba", "scipy", "idle_harbor.formats.plan.building"}
    assert done.stdout and "idle_harbor.cli" in done.stderr.split()
    assert not heavies & set(done.stderr.split())


def test_sizing_tells_every_size(plan_file):
    done = call(f"sizing {plan_file} --pool main --spare 2")
    assert done.exit_code == 0, done.stderr
    peak, head, row = done.stdout.splitlines()
    assert "the hosts hold 80" in peak and head.split()[0] == "size"
    assert row.split()[0] == "sloop" and int(row.split()[4]) > 2
    assert "there is no pool called 'x'" in call(f"sizing {plan_file} --pool x").stderr


def test_checks_say_what_fails_by_their_exit_code(plan_file, tmp_path):
    assert (
        "harm: /pools/0/schedule: 'Main' breaks its promise" in call(f"checks {plan_file}").stdout
    )
    calm = tmp_path / "calm.json"
    calm.write_text(json.dumps(document(promise={"lost_returns": 1, "wait_p99_seconds": 3_600})))
    done = call(f"checks {calm}")
    assert done.exit_code == 0 and "doubt" in done.stdout, done.stdout
    short = document()
    short["pools"][0]["hosts"] = {"standing": 5}
    path = tmp_path / "short.json"
    path.write_text(json.dumps(short))
    done = call(f"checks {path}")
    assert done.exit_code == 1 and "harm: /pools/0/hosts/standing" in done.stdout


def test_prices_print_a_sheet_in_both_forms(plan_file):
    table = call(f"prices {plan_file}").stdout
    assert table.startswith("item,") and "size,EUR" not in table and "sloop" in table
    sheet = json.loads(call(f"prices {plan_file} --format json").stdout)
    assert sheet["sizes"][0]["hourly"] == "0.412"


def test_long_work_is_listed_and_stopped(database_address, monkeypatch):
    from idle_harbor.formats.plan.codec import plan_of
    from idle_harbor.jobs.kinds.weeks import RANGE, ManyWeeks
    from idle_harbor.jobs.queue import ask
    from idle_harbor.store.database import Database
    from tests.core.plans import values

    monkeypatch.setenv("DATABASE_URL", database_address)
    with Database(database_address) as database:
        job = ask(database, RANGE.wish(ManyWeeks(plan_of(values()), "main", 40)))["id"]
    assert call("jobs").stdout.split()[:5] == [str(job), "waiting", "0", "of", "40"]
    with Database(database_address) as database, database.connection() as connection:
        connection.execute("UPDATE jobs SET title = 'T' || chr(27) || '[2J' || chr(8238)")
    assert r"T\x1b[2J\u202e" in call("jobs").stdout
    assert call(f"jobs --stop {job}").stdout.split()[1] == "stopped"
    assert call(f"jobs --again {job}").stdout.split()[1] == "waiting"
    told = json.loads(call(f"jobs --result {job}").stdout)
    assert (told["state"], told["parts"]) == ("waiting", [])
    missing = call("jobs --stop 999")
    assert missing.exit_code == 2 and "there is no job 999" in missing.stderr


def test_a_worker_needs_to_know_its_database(monkeypatch):
    monkeypatch.delenv("DATABASE_URL", raising=False)
    lost = call("worker")
    assert lost.exit_code == 2 and "set DATABASE_URL" in lost.stderr


def test_a_year_is_told_week_by_week(plan_file):
    lines = call(f"year {plan_file} --pool main --year 2027").stdout.splitlines()
    assert len(lines) == 54 and lines[1].startswith("2026-12-28")
    assert lines[-1].split()[-1] in ("kept", "broken")
    assert call(f"year {plan_file} --pool no --year 2027").exit_code == 2
