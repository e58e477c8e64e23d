"""What a game needs to play a character: the Python player, and beside it the same in C99 and JavaScript, all on their own."""

from leanstep.runtime.leanstep_player import At, Contact, Pair, Player, Table, TableError, replay

__all__ = ["At", "Contact", "Pair", "Player", "Table", "TableError", "replay"]
