"""What follows from a search.

In: a reach.  Out: what it proves, and candidates that takes have to show.  Read first ``closed_sets`` (traps, dead ends, transitions
that never get their turn), then ``events`` and ``marks`` (what never fires, is cut off, or stays set), ``resting`` (what becomes of a
character that is left alone), ``short_stays``, ``chains``, ``following`` and ``flicker`` (pictures that flicker while the values
stay), ``flashes`` (states that only flash by), ``wobble`` (pictures that flicker while one value wobbles),
``settled`` (what an open past comes to).
"""
