"""What was planned, sent and approved, and what has changed since it was shown."""

import random
from datetime import UTC, datetime

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.drawings import piece
from tests.recipes import edit_of, kinds
from tests.tries import tries
from wardrobe.core.errors import WardrobeError
from wardrobe.core.timing.plan import plan_steps
from wardrobe.recipe.document.view import View
from wardrobe.recipe.edits import ChangePart, MoveLight, RemovePart, SetBackground, apply
from wardrobe.recipe.events import (
    Completion,
    Delivered,
    Event,
    Filing,
    Happened,
    Plan,
    Remark,
    Sent,
    Verdict,
    changed_since,
    deliveries,
    filing_of,
    plan_of,
    shown_of,
    state_of,
)
from wardrobe.recipe.events.words import said_of

DERIVER, RECIPE = piece()
NOW = datetime(2026, 3, 2, tzinfo=UTC)


def happened(*events: Event) -> list[Happened]:
    return [Happened(number=k, at=NOW, event=e) for k, e in enumerate(events, start=1)]


FILE = Delivered(format="png", name="kite.png", size=9, digest="0" * 64)
SAID = st.sampled_from([
    FILE, Sent(to="Ada"), Completion(), Completion(done=False), Filing(tags=("fair",)),
    Plan(minutes={"parts": 5.0}), Remark(points=((1.0, 2.0),)),
    *(Verdict(verdict=v, about=a) for v in ("approved", "changes wanted")
      for a in ("rough", "colours", "all")), Verdict(verdict="approved", look="k1")])


@given(st.lists(SAID, max_size=12))
def test_the_state_follows_from_what_was_said_last(events: list[Event]) -> None:
    """Against reading it backwards: what was said last counts, unless it was taken back."""
    said = [e for e in events if isinstance(e, Sent | Completion)
            or (isinstance(e, Verdict) and e.look == "piece")]
    while said and isinstance(said[-1], Completion) and not said[-1].done:
        said.pop()
        while said and isinstance(said[-1], Completion):
            said.pop()
    last = said[-1] if said else None
    wanted = ("in work" if last is None else "done" if isinstance(last, Completion)
              else "sent" if isinstance(last, Sent)
              else "changes asked" if last.verdict == "changes wanted"  # type: ignore[union-attr]
              else {"rough": "rough approved", "colours": "colours approved",
                    "all": "approved"}[last.about])  # type: ignore[union-attr]
    log = happened(*events)
    assert state_of(log) == wanted
    plans = [e for e in events if isinstance(e, Plan)]
    assert plan_of(log, 40).minutes == (plans[-1].minutes if plans else plan_steps(40))
    assert filing_of(log).tags == (("fair",) if any(isinstance(e, Filing) for e in events) else ())
    assert set(deliveries(log)) == {h.number for h in log if h.event == FILE}
    assert all(said_of(e) and "{" not in said_of(e) for e in events)


def looks_like(recipe: object) -> np.ndarray:
    return DERIVER.picture(recipe, View.whole(*RECIPE.size, 160)).astype(int)  # type: ignore[arg-type]


@pytest.mark.parametrize("seed", range(tries(2, 4)))
def test_no_change_that_is_seen_is_kept_from_whoever_approved(seed: int) -> None:
    """Edits of every kind: where the picture changes, something is listed; where nothing is
    decided otherwise, nothing is; and undoing all of them leaves nothing listed."""
    dice = random.Random(seed)
    recipe, shown = RECIPE, shown_of(RECIPE)
    before = looks_like(RECIPE)
    assert changed_since(shown, RECIPE) == []
    listed = seen = 0
    for kind in dice.sample(kinds(), len(kinds())):
        edit = edit_of(kind, RECIPE, dice)
        if edit is None:
            continue
        try:
            recipe = apply(RECIPE, edit)
            picture = looks_like(recipe)
        except WardrobeError:
            continue
        told = changed_since(shown, recipe)
        listed += bool(told)
        if picture.shape != before.shape or np.abs(picture - before).max() > 6:
            seen += 1
            assert told, kind
        assert recipe != RECIPE or not told
    assert seen > 8 and listed >= seen


def test_the_largest_change_of_colour_comes_first_with_both_colours() -> None:
    shown = shown_of(RECIPE)
    a, b = RECIPE.parts[0], RECIPE.parts[1]
    recipe = apply(apply(RECIPE, ChangePart(part=a.id, base="#000000")),
                   ChangePart(part=b.id, base=b.base[:-1] + ("0" if b.base[-1] != "0" else "f")))
    told = changed_since(shown, recipe)
    assert told[0].part == a.id and told[0].step >= max(t.step for t in told)
    assert told[0].before in shown.parts[0].colours.values() and told[0].after
    light = RECIPE.light.model_copy(update={"height": RECIPE.light.height + 12})
    moved = changed_since(shown, apply(RECIPE, MoveLight(light=light)))
    assert [(t.what, t.words) for t in moved] == [("the light", "moved by 12°")]
    gone = changed_since(shown, apply(RECIPE, RemovePart(part=a.id)))
    assert (a.name, "is gone") in [(t.what, t.words) for t in gone]
    ground = changed_since(shown, apply(RECIPE, SetBackground(colour="#abcdef")))
    assert [t.what for t in ground] == ["the ground"]
