"""Whom a drawing shows: what is a person's skin, hair and eyes, and that things are nobody."""

import cv2
import numpy as np
import pytest
from numpy.typing import NDArray

from tests.drawings import links_ink, person_ink, standing_ink
from tests.tries import tries
from wardrobe.core.areas.segment import Areas, segment
from wardrobe.core.people.face import find_face
from wardrobe.core.people.find import Person, find_person

Byte = NDArray[np.uint8]


def head(mouth: bool = True, eyes: int = 2) -> Byte:
    ink = np.zeros((700, 600), np.uint8)
    cv2.ellipse(ink, (300, 350), (200, 260), 0, 0, 360, 255, 10)
    for x in (225, 375)[:eyes]:
        cv2.ellipse(ink, (x, 300), (40, 28), 0, 0, 360, 255, 6)
        cv2.circle(ink, (x, 300), 10, 255, -1)
    if mouth:
        cv2.ellipse(ink, (300, 470), (70, 24), 0, 0, 180, 255, 8)
    return ink


def roles(areas: Areas, person: Person, places: dict[str, tuple[int, int]]) -> dict[str, str]:
    """What each place is taken for."""
    kind = {area: name for name in ("skin", "hair", "eyes", "mouth")
            for area in getattr(person, name)}
    return {place: kind.get(int(areas.labels[y, x]), "") for place, (x, y) in places.items()}


def test_a_face_is_two_eyes_and_a_mouth() -> None:
    ink = head()
    areas = segment(ink)
    face = find_face(areas, ink)
    assert face is not None and face.area == areas.labels[200, 300]
    assert set(face.eyes) == {int(areas.labels[300, x]) for x in (200, 400)}
    for other in (head(mouth=False), head(eyes=1), np.rot90(head()).copy()):
        assert find_face(segment(other), other) is None
    person = find_person(areas, ink)
    assert person is not None and person.skin == (face.area,)
    assert set(person.eyes) == set(face.eyes)


def test_busts_are_told_by_skin_hair_and_shirt() -> None:
    """Common practice, no published source: face and neck are skin, what lies above the brow is
    not, a shirt is neither."""
    wanted = {"face": ["skin"], "neck": ["skin"], "hair": ["hair", ""], "eye": ["eyes"],
              "shirt": [""]}
    right = {place: 0 for place in wanted}
    count = tries(12, 60)
    for seed in range(count):
        ink, places = person_ink(seed)
        areas = segment(ink)
        person = find_person(areas, ink)
        assert person is not None
        told = roles(areas, person, places)
        for place, kinds in wanted.items():
            right[place] += told[place] in kinds
    assert right["face"] == count
    assert all(found >= 0.8 * count for found in right.values()), right


@pytest.mark.parametrize("seed", range(tries(4, 12)))
def test_a_face_is_known_however_small_it_is_in_the_figure(seed: int) -> None:
    """A head of an eighth of the height, which the network does not see in the whole."""
    ink, places = standing_ink(seed)
    areas = segment(ink)
    person = find_person(areas, ink)
    assert person is not None
    assert roles(areas, person, places) == {"face": "skin", "body": ""}


@pytest.mark.parametrize("seed", range(tries(8, 40)))
def test_an_area_is_one_thing_and_never_ground(seed: int) -> None:
    """Whatever else is drawn over a person: kinds do not share areas, and there is skin."""
    ink, _ = person_ink(seed)
    rng = np.random.default_rng(seed)
    for _ in range(rng.integers(1, 8)):
        x, y = rng.integers(40, 600, 2).tolist()
        a, b = rng.integers(6, 60, 2).tolist()
        cv2.ellipse(ink, (x, y), (a, b), 0, 0, 360, 255, int(rng.integers(2, 9)), cv2.LINE_AA)
    areas = segment(ink)
    person = find_person(areas, ink)
    assert person is not None and person.skin
    kinds = [person.skin, person.hair, person.eyes, person.mouth]
    together = [area for kind in kinds for area in kind]
    assert len(together) == len(set(together))
    assert 0 not in together and not areas.ground[together].any()


@pytest.mark.parametrize("ink", [links_ink(), cv2.rectangle(np.zeros((500, 500), np.uint8),
                                                            (80, 60), (420, 440), 255, 9)])
def test_things_are_nobody(ink: Byte) -> None:
    assert find_person(segment(ink), ink) is None


def test_size_and_place_on_the_paper_do_not_matter() -> None:
    ink, places = person_ink(3)
    areas = segment(ink)
    person = find_person(areas, ink)
    large = cv2.copyMakeBorder(cv2.resize(ink, None, fx=2.5, fy=2.5), 300, 20, 40, 700,
                               cv2.BORDER_CONSTANT, value=0)
    moved = {place: (round(2.5 * x) + 40, round(2.5 * y) + 300) for place, (x, y) in places.items()}
    again = segment(large)
    other = find_person(again, large)
    assert person is not None and other is not None
    assert roles(areas, person, places) == roles(again, other, moved)
