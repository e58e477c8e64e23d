"""Situations with everything dropped that makes no difference, and one tick of them.

In: a slice and judges.  Out: for a place, the places after it, each with the values that lead there.  Read first ``places`` (what a
situation is made of), ``dimension`` and ``dimensions`` (what it remembers), then ``abstraction`` (from places to moments and back),
``free_world`` (one tick, for all values at once), ``open_masks`` (which values may come next), ``concrete`` (single values out of
sets), and ``cache`` (what has been worked out, for the next check to take over).

Sound because two situations of one place allow the same conditions to come true with the same values on every tick from then on.
"""
