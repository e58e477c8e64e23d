"""Text that XML 1.0 can hold (its section 2.2, *Characters*)."""

from __future__ import annotations

import re

_ILLEGAL = re.compile("[^\t\n\r\x20-\ud7ff\ue000-\ufffd\U00010000-\U0010ffff]")


def legal(text: str) -> str:
    """The text, with U+FFFD for every character that XML cannot hold."""
    return _ILLEGAL.sub("\ufffd", text)
