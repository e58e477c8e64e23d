"""The tick, written once.

:mod:`columns` says what a table holds, :mod:`places` where that is, :mod:`table` writes a machine down as one, :mod:`checks` tells a
damaged one, :mod:`loading` lays it out as two arrays, and :mod:`numbers`, :mod:`conditions`, :mod:`clips`, :mod:`spans` and
:mod:`layers` play it. The engine runs these kernels compiled; ``python -m tools.players`` prints them into the players of other
languages.
"""
