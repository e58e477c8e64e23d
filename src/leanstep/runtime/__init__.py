"""What a game needs to play a character: the Python player, and beside it the same in C99 and JavaScript, all on their own."""

from leanstep.runtime.leanstep_player import Player, Table, TableError, replay

__all__ = ["Player", "Table", "TableError", "replay"]
