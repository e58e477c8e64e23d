"""Tables as JSON: a row of a section on each line."""

from __future__ import annotations

from typing import Any

import msgspec

from leanstep.core.tick.columns import Table


def encoded(table: Table) -> bytes:
    """The table as JSON, a row of a section on each line."""
    made = msgspec.to_builtins(table)
    sections = made.pop("sections")
    head = msgspec.json.format(msgspec.json.encode(made), indent=1).decode().rstrip()[:-2]
    parts = []
    for name, rows in sections.items():
        lines = ",\n".join(f"   {msgspec.json.encode(row).decode()}" for row in rows)
        parts.append(f'  "{name}": [\n{lines}\n  ]' if rows else f'  "{name}": []')
    return (head + ',\n "sections": {\n' + ",\n".join(parts) + "\n }\n}\n").encode()


def schema() -> dict[str, Any]:
    """The JSON Schema of tables."""
    return {"title": "Lean Step table", **msgspec.json.schema(Table)}
