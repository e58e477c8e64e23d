"""What the body says of itself while it stands on endless ground with nothing held."""

from __future__ import annotations

FAR = 200.0
"""How far the body looks ahead, in units."""
STANDING = {"grounded": True, "headroom": True, "ahead": FAR}
"""By name, where that is not the usual rest value: speeds and heights are 0 then, and all other flags off."""
