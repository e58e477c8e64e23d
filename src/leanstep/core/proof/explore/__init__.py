"""Playing with a body, which no search follows.

In: a character with a body and a course.  Out: takes by the game's own controls that reach states and take transitions.  Read first
``body_world`` (a search by playing, from what has been found, kept in an ``archive``), then ``covering`` (takes for what a
character's takes leave out) and
``covering_parts`` (takes in which single parts of conditions decide).

What is found is shown; what is not found says nothing.
"""
