"""Settings of all tests."""

from hypothesis import settings

# The first call of a kernel may compile it: no example is late. The same examples every time: a
# failure must come from the change that is tested.
settings.register_profile("wardrobe", deadline=None, derandomize=True)
settings.load_profile("wardrobe")
