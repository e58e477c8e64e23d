"""Pictures as PNG files that say who wrote them."""

from __future__ import annotations

import io
from collections.abc import Sequence
from typing import Any

from PIL import Image
from PIL.PngImagePlugin import PngInfo

SAYS = "Lean Step"
"""What files say of who wrote them."""


def png(first: Image.Image, rest: Sequence[Image.Image] = (), **how: Any) -> bytes:
    """A picture, or with the ``rest`` a moving one; ``how`` as :meth:`PIL.Image.Image.save` takes it for PNG."""
    info, out = PngInfo(), io.BytesIO()
    info.add_text("Software", SAYS)
    moving = {"save_all": True, "append_images": list(rest)} if rest else {}
    first.save(out, "PNG", pnginfo=info, **moving, **how)
    return out.getvalue()
