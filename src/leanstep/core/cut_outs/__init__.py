"""Cut-out figures: how parts lie at an instant, how poses mix, and the pictures that come of it."""
