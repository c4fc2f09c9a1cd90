"""Whatever edits are made in whatever order: recipes stay sound, and histories can be replayed."""

import random
from collections import Counter
from functools import reduce

import pytest

from tests.drawings import piece
from tests.recipes import EDITS, edit_of, kinds
from tests.tries import tries
from wardrobe.recipe.document.model import Recipe
from wardrobe.recipe.edits import EditRefusedError, Several, apply

_, FIRST = piece()


@pytest.mark.parametrize("seed", range(tries(2, 4)))
def test_any_row_of_edits_can_be_taken_back_told_and_replayed(seed: int) -> None:
    dice, states, made = random.Random(seed), [FIRST], []
    taken: Counter[str] = Counter()
    for kind in kinds() * 8:
        recipe = states[-1]
        edit = edit_of(kind, recipe, dice)
        if edit is None:
            continue
        before = recipe.model_dump_json()
        try:
            after = apply(recipe, edit)
        except EditRefusedError as error:
            assert recipe.model_dump_json() == before and str(error)
            continue
        assert recipe.model_dump_json() == before  # taking back is going to the state before
        told = after.model_dump_json()
        assert Recipe.model_validate_json(told) == after
        assert apply(recipe, EDITS.validate_json(EDITS.dump_json(edit))) == after
        taken[kind] += 1
        if kind not in ("set_frame", "turn_picture", "replace_parts") or dice.random() < 0.3:
            states.append(after)
            made.append(edit)
    assert reduce(apply, made, FIRST) == states[-1]
    several = Several(edits=tuple(made[:100]))
    assert apply(FIRST, several) == states[min(100, len(made))]
    assert len(taken) > 0.75 * len(kinds()), sorted(set(kinds()) - taken.keys())
