"""Takes that show a verdict.

In: a reach and what it should show.  Out: witnesses, as short as can be found, each replayed by the plain stepper before anyone sees
it.  Read first ``building`` (from a path to a take), then ``shrinking`` (what is not needed is left out), ``picks`` (of blend
spaces).  Where the past was left open, takes are looked for by playing: ``plans`` (values to be kept, as the search suggests them),
``waiting`` (values with which nothing happens), ``walks`` (from state to state, where none waits), ``playing`` (all that can be
played so), ``open_takes`` (what goes on from there); and by asking: ``guided`` (one question, with only that followed on which it
turns).
"""
