"""Values from outside, as sets that no condition tells apart.

In: the conditions of a slice.  Out: judges that say true, false or "split here" of whole sets.  Read first ``regions`` (the range of
every symbol, cut at the constants it is compared with), then ``predicates`` (conditions over sets), ``boxes`` (dividing sets until
each has an answer, within the assumptions), ``linear_constraints`` and ``simplex`` (comparisons of several numbers), ``rates``
(numbers that change only so fast).

Sound because within a region every condition has one answer (predicate abstraction: Graf, Saïdi, CAV 1997); what a judge cannot
tell is open, and may be either.
"""
