"""The front end, built once for each state of its sources and of the API it calls."""

from __future__ import annotations

import hashlib
import json
import shutil
from pathlib import Path
from typing import Any

from idle_harbor.launch.tools import LaunchError, install_debian, run
from idle_harbor.runtime import CHECKOUT, var_folder

FOLDER = CHECKOUT / "frontend"
_LEAST_NODE = 20


def _digest(paths: list[Path]) -> str:
    digest = hashlib.sha256()
    for path in sorted(paths):
        digest.update(path.relative_to(CHECKOUT).as_posix().encode())
        digest.update(path.read_bytes())
    return digest.hexdigest()


def _fresh(stamp: Path, digest: str) -> bool:
    return stamp.exists() and stamp.read_text() == digest


def node_ready() -> None:
    """Raise LaunchError where Node and npm are missing or too old and cannot be installed."""
    if shutil.which("npm") is None or shutil.which("node") is None:
        install_debian(["nodejs", "npm"], what="Node.js and npm")
    version = run(["node", "--version"], what="node").strip().lstrip("v")
    if int(version.split(".")[0]) < _LEAST_NODE:
        raise LaunchError(f"Node.js {version} is too old; Idle Harbor needs {_LEAST_NODE} or newer")


def install_packages() -> None:
    """``npm ci`` for the lock file, once."""
    node_ready()
    lock = FOLDER / "package-lock.json"
    stamp = FOLDER / "node_modules" / ".idle-harbor"
    digest = _digest([lock, FOLDER / "package.json"])
    if not _fresh(stamp, digest):
        print("installing the front end's packages …", flush=True)
        run(["npm", "ci", "--no-audit", "--no-fund"], what="npm ci", cwd=FOLDER)
        stamp.write_text(digest)


def write_openapi() -> Path:
    """The API document under var/, from which the front end's client types are made."""
    from idle_harbor.web.app import api_document

    target = var_folder() / "openapi.json"
    target.parent.mkdir(parents=True, exist_ok=True)
    target.write_text(json.dumps(api_document(), indent=1))
    return target


#: Files that are made from the API document.
_MADE = ("schema.d.ts", "bounds.json", "declared.json")
#: Numbers that the page counts by itself: nobody types them.
_COUNTED = ("edit", "plan_id")
#: What the document calls the bounds of a number, and what the page does.
_BOUNDS = {"minimum": "low", "maximum": "high"}


def _bounds(document: Path) -> dict[str, dict[str, Any]]:
    """The bounds of numbers that are asked with, by the name of the body and the field."""
    found = {}
    for name, body in json.loads(document.read_text())["components"]["schemas"].items():
        for field, about in body.get("properties", {}).items():
            for kind in about.get("anyOf", [about]):
                bounds = {ours: kind[name] for name, ours in _BOUNDS.items() if name in kind}
                if name.endswith("Body") and bounds and field not in _COUNTED:
                    found[f"{name}.{field}"] = {**bounds, "whole": kind["type"] == "integer"}
    return found


def _declared() -> dict[str, Any]:
    """What the page says of the parts of the promise and of the kinds of drill, as the core
    declares them."""
    from idle_harbor.core.figures.promise import PARTS
    from idle_harbor.core.plan import Promise
    from idle_harbor.core.weeks.drills import KINDS

    parts = [
        {
            "field": part.field,
            "short": part.short,
            "title": part.title,
            "head": part.head,
            "spoken": part.spoken,
            "sentence": part.sentence,
            "nobody": part.nobody,
            "timed": part.timed,
            "least": part.least,
            "meaning": part.about.meaning,
            "optional": part.optional,
            "usual": part.limit(Promise()),
        }
        for part in PARTS
    ]
    drills = [{"id": kind.id, "does": kind.does} for kind in KINDS]
    return {"promise": parts, "drills": drills}


def generate_client() -> None:
    """The types of the API's client, the bounds of what it asks, and what the core declares."""
    document = write_openapi()
    bounds = json.dumps(_bounds(document), indent=2)
    (FOLDER / "src" / "api" / "bounds.json").write_text(bounds + "\n")
    declared = json.dumps(_declared(), indent=2, ensure_ascii=False)
    (FOLDER / "src" / "api" / "declared.json").write_text(declared + "\n")
    run(
        ["npx", "--no-install", "openapi-typescript", document, "-o", "src/api/schema.d.ts"],
        what="making the API client",
        cwd=FOLDER,
    )


def build_frontend() -> None:
    """Build the front end unless this very state has been built."""
    sources = [p for p in (FOLDER / "src").rglob("*") if p.is_file() and p.name not in _MADE]
    sources += [FOLDER / name for name in ("index.html", "vite.config.ts", "package-lock.json")]
    package = CHECKOUT / "src" / "idle_harbor"
    sources += [*(package / "web").rglob("*.py"), *(package / "formats").rglob("*.py")]
    # What answers tell of the core's own values.
    sources += (package / "core" / "plan").rglob("*.py")
    sources += [
        package / "core" / name
        for name in (
            "weeks/summary.py",
            "weeks/drills.py",
            "figures/promise.py",
            "money/ledger.py",
        )
    ]
    stamp = FOLDER / "dist" / ".idle-harbor"
    digest = _digest(sources)
    if _fresh(stamp, digest):
        return
    install_packages()
    print("building the front end …", flush=True)
    generate_client()
    run(["npx", "--no-install", "vite", "build"], what="vite build", cwd=FOLDER)
    stamp.write_text(digest)
