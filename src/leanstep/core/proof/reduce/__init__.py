"""What of a character matters for a layer's fate: everything else is left out before anything is searched.

In: a machine.  Out: slices of it, smaller machines with the same fate.  Read first ``slices`` (the cone of influence: what a layer's
conditions depend on, directly or not), then ``inlining`` (formulas written out into the conditions that read them), ``picks`` (the
same of spans that only some clips of a blend space have), ``observables`` (which stays, playheads and edges anything can tell
while a state is active) and ``playheads`` (those that come to too many places to be followed).

Sound because what is left out is read by nothing that is kept.
"""
