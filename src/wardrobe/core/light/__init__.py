"""Light: one key light, and the shade and light shapes that follow from it."""
