"""The views of an edited character in which the same is tried as in views before the edit.

With the stay known, conditions come down to what they ask of the rest: ``hit and stay > 0.1 s`` asks after 0.1 s what ``hit``
asks at any time.  Where two views differ in nothing but stays, and each layer's conditions come down to the same in both, the
same values make the same happen.
"""

from __future__ import annotations

from collections.abc import Iterator
from itertools import product

from leanstep.core.conditions import expression as x
from leanstep.core.proof.states.free_world import FreeWorld
from leanstep.core.proof.states.places import Scene, View


class Twins:
    """The views of a world that are like views of an ``old`` one of the same frame.  ``rerouted`` are the (layer, state) with
    transitions that differ in more than their conditions."""

    def __init__(self, world: FreeWorld, old: FreeWorld, rerouted: set[tuple[int, int]]) -> None:
        self.world, self.old = world, old
        memories = (world.machine.memories[index].operand for index in world.slice.memories)
        # stays that memories ask for, and clips that are over after a while, are taken as they are
        self._as_they_are = {
            atom.layer for one in memories for atom in x.parts(one) if isinstance(atom, x.Stayed | x.ClipOver)
        }
        tables = world.machine.layers
        self._stays = {
            (layer, state): self._alike(layer, state) if (layer, state) not in rerouted else {}
            for layer in world.layers
            for state in range(len(tables[layer].states))
        }
        self._scenes: dict[Scene, tuple[Scene, ...]] = {}
        self._views: dict[View, tuple[View, ...]] = {}

    def of(self, view: View) -> tuple[View, ...]:
        """The views that are like an old one."""
        known = self._views.get(view)
        if known is None:
            scenes = self._scenes.get(view.scene)
            if scenes is None:
                scenes = self._scenes[view.scene] = tuple(self._like(view.scene))
            past = view.ready, view.held, view.may, view.near
            views = [view if scene is view.scene else self.world.pool.view(scene, *past) for scene in scenes]
            known = self._views[view] = tuple(views)
        return known

    def _like(self, scene: Scene) -> Iterator[Scene]:
        states, layers = scene.states, self.world.layers
        for alike in product(*(self._stays[at, states[at]].get(scene.stays[at], ()) for at in layers)):
            known = dict(zip(layers, alike))
            stays = tuple([known.get(at, stay) for at, stay in enumerate(scene.stays)])
            if stays == scene.stays:
                yield scene
            else:
                yield self.world.pool.scene(states, stays, scene.blocked, scene.frozen, scene.seen)

    def _alike(self, layer: int, state: int) -> dict[int, list[int]]:
        """The stays, each the least of those that are not told apart, by the old stays that are like them."""
        layout, before = self.world.layout, self.old.layout
        if layout.edges[layer][state] != before.edges[layer][state]:
            return {}
        stays, earlier = ([0, *one.thresholds[layer][state]] for one in (layout, before))
        ways, others = (one.machine.layers[layer].ways[state] for one in (self.world, self.old))
        if ways == others and stays == earlier:
            return {stay: [stay] for stay in stays}
        tried, known = ([way.condition or x.Constant(False) for way in row] for row in (ways, others))
        clips = any(isinstance(atom, x.ClipOver) for one in (*tried, *known) for atom in x.parts(one))
        if clips or layer in self._as_they_are:
            return {}
        now = [(stay, [simplified_after(one, stay) for one in tried]) for stay in stays]
        return {
            stay: [same for same, asked in now if asked == [simplified_after(one, stay) for one in known]]
            for stay in earlier
        }


def simplified_after(condition: x.Expression, stay: int) -> x.Expression:
    """What a condition asks after a stay of so many ticks."""
    match condition:
        case x.Stayed(_, operator, ticks):
            return x.Constant(x.holds(operator, stay, ticks))
        case x.Inverse(operand):
            inner = simplified_after(operand, stay)
            return x.Constant(not inner.value) if isinstance(inner, x.Constant) else x.Inverse(inner)
        case x.Every(operands) | x.Some(operands):
            kind = condition.__class__
            neutral = x.Constant(kind is x.Every)
            parts = [one for one in (simplified_after(operand, stay) for operand in operands) if one != neutral]
            decided = [one for one in parts if isinstance(one, x.Constant)]
            if decided or not parts:
                return decided[0] if decided else neutral
            return parts[0] if len(parts) == 1 else kind(tuple(parts))
    return condition
