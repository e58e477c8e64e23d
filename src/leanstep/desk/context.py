"""What every part of the window is given: the open document and the character alive."""

from __future__ import annotations

from dataclasses import dataclass

from leanstep.desk.clicks import Clicks
from leanstep.desk.session import Session
from leanstep.desk.simulation import Simulation
from leanstep.desk.starts import Starts


@dataclass(frozen=True)
class Context:
    """``session`` is the open document and who wants to know of it, ``live`` the character that is stepped in real time;
    ``starts`` lets it be steered on from elsewhere, ``clicks`` let marks be heard."""

    session: Session
    live: Simulation
    starts: Starts
    clicks: Clicks
