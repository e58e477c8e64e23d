"""What every part of the window is given: the open document and the character alive."""

from __future__ import annotations

from dataclasses import dataclass

from leanstep.desk.clicks import Clicks
from leanstep.desk.live import Live
from leanstep.desk.session import Session


@dataclass(frozen=True)
class Desk:
    """``session`` is the open document and who wants to know of it, ``live`` the character that is stepped in real time;
    ``clicks`` let marks be heard."""

    session: Session
    live: Live
    clicks: Clicks
