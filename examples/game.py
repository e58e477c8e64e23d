"""A game's loop with a character of Lean Step: here the lamplighter of the demo, in text instead of pictures.

lean-step export demo/lamplighter.leanstep --to table --to players --to interface --out build
PYTHONPATH=build python examples/game.py build/lamplighter.table.json
"""

import sys

from lamplighter_names import Layers, Parameters
from leanstep_player import Player, Table

RATE, GRAVITY, JUMP, FASTEST, FASTER = 60.0, 900.0, 260.0, 80.0, 500.0


def hands(tick: int) -> dict[str, float]:
    """What a player's hands do; a real game reads a device here."""
    return {"x": 1.0 if 30 <= tick < 150 else 0.0, "jump": 90 <= tick < 100}


class Body:
    """The game's own physics: it runs, jumps and falls."""

    def __init__(self) -> None:
        self.x, self.y, self.vx, self.vy = 0.0, 0.0, 0.0, 0.0

    def move(self, push: float, jumps: bool, locked: bool) -> None:
        wanted = 0.0 if locked else push * FASTEST
        step = FASTER / RATE
        self.vx = min(self.vx + step, wanted) if self.vx < wanted else max(self.vx - step, wanted)
        if jumps and self.y == 0.0 and not locked:
            self.vy = JUMP
        self.x = self.x + self.vx / RATE
        self.y = self.y + self.vy / RATE
        self.vy = self.vy - GRAVITY / RATE
        if self.y <= 0.0:
            self.y, self.vy = 0.0, 0.0


def main(path: str) -> None:
    hero, body, jumped, shown = Player(Table.load(path)), Body(), False, ""
    for tick in range(240):
        now = hands(tick)
        # 1. the game moves the body; what the character locked on the tick before counts
        body.move(now["x"], bool(now["jump"]) and not jumped, hero.locked)
        jumped = bool(now["jump"])
        # 2. the character is told about hands and body, and plays a tick
        hero.push("stick", now["x"], 0.0)
        hero.hold(Parameters.JUMP, bool(now["jump"]))
        hero.set(Parameters.SPEED, abs(body.vx))
        hero.set(Parameters.RISE, body.vy)
        hero.set(Parameters.GROUNDED, body.y == 0.0)
        hero.step()
        # 3. the game draws what is shown, and answers what happened
        if hero.state(Layers.BASE) != shown:
            shown = hero.state(Layers.BASE)
            picture = hero.frame(Layers.BASE)
            print(f"tick {tick}: {shown}, at {body.x:.1f}, shows {picture.frame if picture else 'nothing'}")
        for mark, _ in hero.marks:
            print(f"tick {tick}: {mark}")


if __name__ == "__main__":
    main(sys.argv[1])
