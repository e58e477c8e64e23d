"""All that can be reached.

In: a free world.  Out: a reach, the places that were found, nearest first, with the fewest ticks and the way there.  Read first
``reach`` and ``reachability`` (breadth first, by ticks), then ``tabled``, ``tables``, ``table_arrays`` and ``table_kernels`` (the same
for a single question, many places for little), ``few_states`` (a few states with all they read followed, where the whole is too
much), ``reuse`` and ``same_views`` (what the search of an edited character takes over).

Sound because a search that leaves something open allows more than can happen, never less.
"""
