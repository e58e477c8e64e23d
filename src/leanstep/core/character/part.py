"""The base of everything in a document."""

from __future__ import annotations

from typing import Any

import msgspec


class Part(msgspec.Struct, frozen=True, omit_defaults=True, kw_only=True):
    """Base of everything in a document."""

    extra: dict[str, Any] = {}
