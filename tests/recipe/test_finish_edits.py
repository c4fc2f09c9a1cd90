"""What is changed about finish layers: added, moved, their amount and focus, also in a look."""

import numpy as np
import pytest
from pydantic import ValidationError

from tests.recipe.test_finish import DERIVER, FOCUS, LIT, PAINTS, SHAPES, STOPS, WHOLE, finished
from wardrobe.recipe.document.finish import (
    ColourGradient,
    FinishDraft,
    FinishLayer,
    Focus,
    PlainColour,
    Spots,
    SpotStroke,
    check_spots,
)
from wardrobe.recipe.document.model import Recipe
from wardrobe.recipe.edits import (
    AddFinish,
    AddLook,
    ChangeFinish,
    EditRefusedError,
    FollowPiece,
    MoveFinish,
    RemoveFinish,
    SetBackground,
    SetFinishAmount,
    SetFocus,
    apply,
    dressed,
)


def test_the_amount_of_all_is_that_of_each() -> None:
    """Half of all is each layer at half; none of it is as if nothing were there, to the bit."""
    layers = [FinishDraft(name=f"x{k}", paint=paint, shape=shape, mode="multiply", strength=0.8)
              for k, (paint, shape) in enumerate(zip(PAINTS, SHAPES, strict=False))]
    recipe = finished(*layers)
    half = apply(recipe, SetFinishAmount(amount=0.5))
    each = finished(*(d.model_copy(update={"strength": 0.4}) for d in layers))
    assert np.array_equal(DERIVER.picture(half, WHOLE), DERIVER.picture(each, WHOLE))
    none = apply(recipe, SetFinishAmount(amount=0))
    assert np.array_equal(DERIVER.picture(none, WHOLE), DERIVER.picture(LIT, WHOLE))
    assert [n.name for n in DERIVER.stack(none).layers()] \
        == [n.name for n in DERIVER.stack(LIT).layers()]


def test_amount_and_focus_may_be_a_looks_own() -> None:
    """Given to a look they leave the piece as it is; with its finish they follow it again."""
    layer = FinishDraft(name="x", paint=PlainColour(colour="#203060"), focus="away")
    recipe = apply(apply(finished(layer), SetFocus(places=FOCUS)), AddLook(name="dim"))
    before = DERIVER.picture(recipe, WHOLE)
    own = apply(apply(recipe, SetFinishAmount(amount=0.3, targets=("k1",))),
                SetFocus(places=FOCUS[:1], targets=("k1",)))
    assert np.array_equal(DERIVER.picture(own, WHOLE), before)
    worn = dressed(own, "k1")
    assert worn.finish_amount == 0.3 and worn.focus == FOCUS[:1] and worn.finish == recipe.finish
    assert not np.array_equal(DERIVER.picture(worn, WHOLE), before)
    back = apply(own, FollowPiece(looks=("k1",), what=("finish",)))
    assert np.array_equal(DERIVER.picture(dressed(back, "k1"), WHOLE), before)
    assert back == recipe


def test_layers_tied_to_the_focus_share_the_picture_out() -> None:
    """What is there and what is away add up to what is everywhere; without a focus nothing is
    there, and away is everywhere."""
    def shown(how: str, places: tuple[Focus, ...] = FOCUS) -> np.ndarray:
        layer = FinishDraft(name="x", paint=PlainColour(colour="#ffffff"), mode="plus-lighter",
                            strength=0.3, focus=how)
        dark = SetBackground(colour="#202020")
        return DERIVER.picture(apply(apply(finished(layer), SetFocus(places=places)), dark),
                               WHOLE).astype(int)

    bare = DERIVER.picture(apply(LIT, SetBackground(colour="#202020")), WHOLE).astype(int)
    ground = np.zeros((480, 480), bool)
    ground[:, :40] = True
    there, away, all_of_it = (shown(how)[ground] - bare[ground]
                              for how in ("there", "away", "as it is"))
    assert np.abs(there + away - all_of_it).max() <= 2
    assert there.max() > 30 and away.max() > 30
    assert np.array_equal(shown("there", ()), bare)
    # By a plane of its own it is rounded once more.
    assert np.abs(shown("away", ()) - shown("as it is", ())).max() <= 1


def test_looks_have_finish_of_their_own() -> None:
    """An ordinary edit on a look; the piece stays; what follows the piece follows it again."""
    layer = FinishDraft(name="dusk", paint=PlainColour(colour="#304080"), mode="multiply")
    recipe = apply(finished(layer), AddLook(name="night"))
    piece_before = DERIVER.picture(recipe, WHOLE)
    stronger = layer.model_copy(update={"paint": PlainColour(colour="#102040")})
    own = apply(recipe, ChangeFinish(layer="f1", to=stronger, targets=("k1",)))
    assert np.array_equal(DERIVER.picture(own, WHOLE), piece_before)
    assert DERIVER.picture(dressed(own, "k1"), WHOLE).mean() < piece_before.mean() - 5
    back = apply(own, FollowPiece(looks=("k1",), what=("finish",)))
    assert dressed(back, "k1").finish == back.finish
    gone = apply(back, RemoveFinish(layers=("f1",)))
    assert dressed(gone, "k1").finish == () == gone.finish


def test_layers_are_added_moved_and_taken_off() -> None:
    def names(recipe: Recipe) -> list[str]:
        return [layer.name for layer in recipe.finish]

    a, b, c, d = (FinishDraft(name=n, paint=PAINTS[0]) for n in "abcd")
    recipe = finished(a, b, c)
    assert names(recipe) == ["a", "b", "c"] and [f.id for f in recipe.finish] == ["f1", "f2", "f3"]
    assert names(apply(recipe, AddFinish(layers=(d,), below="f2"))) == ["a", "d", "b", "c"]
    assert names(apply(recipe, MoveFinish(layer="f1"))) == ["b", "c", "a"]
    assert names(apply(recipe, MoveFinish(layer="f3", below="f1"))) == ["c", "a", "b"]
    assert apply(recipe, MoveFinish(layer="f2", below="f2")) == recipe
    assert names(apply(recipe, RemoveFinish(layers=("f1", "f3")))) == ["b"]
    for edit in (MoveFinish(layer="f9"), MoveFinish(layer="f1", below="f9"),
                 RemoveFinish(layers=("f1", "f9")), ChangeFinish(layer="f9", to=a),
                 AddFinish(layers=(a,), below="f9"), AddFinish(layers=(a,) * 58)):
        with pytest.raises(EditRefusedError):
            apply(recipe, edit)
    long = FinishLayer(id="f1", name="x", paint=PAINTS[0], shape=Spots(strokes=(SpotStroke(
        points=((1, 1),) * 4000),) * 26))
    with pytest.raises(ValueError, match="points together"):
        check_spots((long,))
    with pytest.raises(ValidationError):
        ColourGradient(ends=((0, 0), (1, 1)), stops=STOPS[::-1])


def test_recipes_of_before_open_and_say_today() -> None:
    old = LIT.model_dump(mode="json") | {"schema_version": 1}
    del old["finish"], old["ink"]
    assert Recipe.model_validate(old) == LIT
    two = old | {"schema_version": 2, "answers": [{"look": None, "date": "2026-01-01"}]}
    assert Recipe.model_validate(two) == LIT  # what was answered is kept elsewhere now
    for wrong in (0, 4, "1", True, None):
        with pytest.raises(ValidationError):
            Recipe.model_validate(old | {"schema_version": wrong})
