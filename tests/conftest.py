"""Settings of all tests."""

from hypothesis import settings

# The first call of a kernel may compile it: no example is late.
settings.register_profile("wardrobe", deadline=None)
settings.load_profile("wardrobe")
