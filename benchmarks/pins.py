"""How fast a pin point is followed, and a figure with accessories is drawn: ``python -m benchmarks.pins``."""

from __future__ import annotations

import numpy as np
from msgspec.structs import replace
from PySide6.QtCore import QPointF
from PySide6.QtGui import QImage, QPainter

from benchmarks import best, sized
from benchmarks.window import demo_window
from leanstep.core.graph.compilation import compile_character
from leanstep.core.rehearsal.drawable import of_situation
from leanstep.core.rehearsal.stepping import Stepper
from leanstep.core.sheets.following import follow
from leanstep.desk import paint

FRAMES, SIDE, ACCESSORIES = sized(60, 6), 256, 20


def pictures() -> list[np.ndarray]:
    """A body that stands and a hand that goes round beside it."""
    made = []
    for at in range(FRAMES):
        picture = np.zeros((SIDE, SIDE, 4), np.uint8)
        picture[60:230, 90:150] = (80, 60, 40, 255)
        x, y = 150 + round(30 * np.sin(at / 6)), 100 + round(20 * np.cos(at / 5))
        picture[y - 8 : y + 8, x - 8 : x + 8] = (200, 180, 60, 255)
        made.append(picture)
    return made


def main() -> None:
    """Print the figures."""
    some = pictures()
    seconds = best(lambda: list(follow(some, [(128.0, 230.0)] * FRAMES, (150.0, 120.0))))
    print(f"a pin point is followed over {FRAMES} pictures of {SIDE} × {SIDE} in {seconds * 1000:.0f} ms")
    with demo_window(sized(300, 50)) as window:
        document = window.session.document
        lamp = document.accessories[0]
        many = tuple(replace(lamp, name=f"lamp {at}") for at in range(ACCESSORIES - 1))
        machine = compile_character(replace(document, accessories=many))
        now = Stepper(machine).first()
        image = QImage(400, 300, QImage.Format.Format_ARGB32_Premultiplied)
        painter = QPainter(image)

        def draw() -> None:
            paint.figure(painter, window.session.art, of_situation(machine, now), QPointF(200, 280), 2.0)

        draw()
        print(f"a figure of {ACCESSORIES} pieces is drawn in {best(draw) * 1000:.2f} ms")
        painter.end()


if __name__ == "__main__":
    main()
