"""docs/plan.md from the field table."""

from __future__ import annotations

from idle_harbor.core.plan.table import plan_fields

_HEAD = """# Plan files

A plan is one JSON document; `docs/plan.schema.json` is its schema and `./idle-harbor schema` prints
it. Money is text ("0.412"), clock times are "HH:MM", timeouts are seconds or "never". Ids are small
letters, digits and hyphens. This page is printed by `./idle-harbor fields`.

| field | unit | default | from | to | meaning | source |
|---|---|---|---|---|---|---|
"""


def field_page() -> str:
    """The page as Markdown."""

    def number(value: float | None) -> str:
        return "" if value is None else f"{value:,g}" if value % 1 else f"{value:,.0f}"

    def text(value: object) -> str:
        return "" if value is None else str(value)

    rows, choices = [], []
    for field in plan_fields():
        about = field.about
        rows.append(
            f"| `{field.path}` | {about.unit} | {text(field.default)} | {number(about.low)} "
            f"| {number(about.high)} | {about.meaning} | {about.source} |\n"
        )
        if about.choices is not None:
            each = "".join(f"- *{name}*: {text}\n" for name, text in about.choices.items())
            choices.append(f"\n`{field.path}`:\n\n{each}")
    return _HEAD + "".join(rows) + "\n## Choices\n" + "".join(choices)
