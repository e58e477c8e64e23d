"""Proofs: which states are dead, unreachable or flickering, each with the shortest input sequence that shows it.

In comes a machine (:mod:`leanstep.core.graph.machine`), out comes a :class:`~leanstep.core.proof.conclusions.Proof`, slice by slice,
which says a :class:`~leanstep.core.proof.verdict.Verdict` on everything that is asked of it.  ``door`` has what others see,
``proving`` puts it together; how far a search may go says :mod:`leanstep.core.work`.

Rooms, in the order in which a machine goes through them, each of which knows only those before it: ``reduce`` (what matters at all),
``values`` (sets of values that nothing tells apart), ``states`` (situations, and one tick of them), ``search`` (all that can be
reached), ``verdicts`` (what follows), ``witness`` (takes that show it), and beside them ``explore`` (playing with a body).
``open_past`` puts verdicts together where there is too much to follow it all.
"""
