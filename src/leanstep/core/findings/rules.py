"""Every kind of finding there is: what it is called, how bad it is, what it says, and what it is about.

From here follow the rules of SARIF, the index in the documentation, and what a check may say at all.
"""

from __future__ import annotations

from leanstep.core.findings.behaviour_rules import BEHAVIOUR
from leanstep.core.findings.document_rules import DOCUMENT

RULES = {rule.id: rule for rule in (*BEHAVIOUR, *DOCUMENT)}
"""Every rule by its id."""


def index() -> str:
    """All rules as a Markdown table."""
    rows = [f"| `{one.id}` | {' or '.join(one.severities)} | {one.title}. {one.help} |" for one in RULES.values()]
    return "\n".join(["| id | severity | what it says |", "|---|---|---|", *rows, ""])
