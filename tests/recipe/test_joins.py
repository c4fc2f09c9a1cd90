"""Why the areas of a part are together, and how it comes apart and back."""

import numpy as np

from tests.drawings import links_ink, piece
from wardrobe.recipe.edits import ClaimAreas, apply
from wardrobe.recipe.reports.joins import joined_parts


def test_a_part_tells_why_it_is_one_and_splits_to_the_last_area() -> None:
    deriver, recipe = piece(links_ink())
    assert joined_parts(deriver, recipe) == []
    everything = tuple(c.strokes[0] for c in recipe.claims)
    one = apply(recipe, ClaimAreas(to="p1", strokes=everything))
    count = deriver.areas(one).count - 1
    (join,) = joined_parts(deriver, one)
    assert (join.part, join.areas) == ("p1", count) and join.reason
    # Each split takes one group off; what was one part ends as single areas, none lost.
    split = one
    for _ in range(count - 1):
        join = max(joined_parts(deriver, split), key=lambda j: j.areas)
        assert join.split
        before = len(split.parts)
        split = apply(split, join.split)
        assert len(split.parts) == before + 1
    assert joined_parts(deriver, split) == []
    owners = deriver.assignment(split).part_of_area
    figure = ~deriver.assignment(split).ground
    figure[0] = False
    assert (owners[figure] > 0).all() and len(np.unique(owners[figure])) == count
    assert len({p.name.casefold() for p in split.parts}) == len(split.parts)


def test_what_splits_off_first_is_least_like_the_rest() -> None:
    deriver, recipe = piece(links_ink())
    links = tuple(((float(320 + 40 * k), 300.0),) for k in range(5))
    joined = apply(recipe, ClaimAreas(to="p1", strokes=(*links, ((150.0, 300.0),))))
    (join,) = [j for j in joined_parts(deriver, joined) if j.areas == 7]
    assert join.split
    claimed = join.split.claims[-1].strokes
    areas = deriver.areas(joined)
    apart = {int(areas.labels[int(y), int(x)]) for ((x, y),) in claimed}
    small = {int(areas.labels[300, 320 + 40 * k]) for k in range(5)}
    assert apart == small or not apart & small  # the links stay together
