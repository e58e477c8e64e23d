"""Prints the kernels of the tick into the players of other languages: ``python -m tools.players``.

Each player is one file.  What reads tables and talks to a game is written by hand; between two marks stands what is printed here from
:mod:`leanstep.core.tick`, so that every engine and every player does the same because it is the same.
"""
