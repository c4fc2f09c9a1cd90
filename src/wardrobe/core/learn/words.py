"""What was measured, in words, and what to look at next."""

from wardrobe.core.learn.answers import Measured
from wardrobe.core.learn.judge import Verdict
from wardrobe.core.learn.lessons import Question

_SMALL_TURN, _SMALL_AMOUNT, _SMALL_HUE = 4.0, 0.04, 6.0  # not worth a word
_ON_EDGE = 0.85


def of_drawing(verdict: Verdict, asked: str | None) -> list[str]:
    """Sentences about a drawn answer, what matters most first."""
    said: list[str] = []
    if verdict.wanted == 0 and asked == "highlight":
        return ["Right: this surface mirrors nothing."] if verdict.amount == 0 else \
            ["This surface mirrors nothing: leave it without a highlight."]
    if verdict.agreement <= 0:
        said.append("This is no nearer than chance: find the side that the light comes from "
                    "first.")
    error = verdict.azimuth_error
    if error is not None and abs(error) > _SMALL_TURN:
        way = "counter-clockwise" if error > 0 else "clockwise"
        said.append(f"It is drawn as if the light stood {abs(error):.0f}° further {way}.")
    elif error is not None:
        said.append(f"The light is right to {abs(error):.0f}°.")
    off = verdict.amount - verdict.wanted
    if abs(off) > _SMALL_AMOUNT:
        what = {"highlight": "highlight", "cast": "shadow"}.get(asked or "", "shade")
        said.append(f"There is too {'much' if off > 0 else 'little'} {what}: {verdict.amount:.0%} "
                    f"of the form instead of {verdict.wanted:.0%}.")
    if verdict.shadow_turn is not None and abs(verdict.shadow_turn) > _SMALL_TURN:
        way = "counter-clockwise" if verdict.shadow_turn > 0 else "clockwise"
        said.append(f"The shadow on the ground points {abs(verdict.shadow_turn):.0f}° too far "
                    f"{way}.")
    if verdict.shadow_length is not None and not 0.85 < verdict.shadow_length < 1.18:
        said.append(f"It is {verdict.shadow_length:.0%} as long as it should be: the lower the "
                    "light, the longer.")
    if verdict.missing:
        count = len(verdict.missing)
        said.append(f"{count} {'piece is' if count == 1 else 'pieces are'} missing.")
    if verdict.extra:
        count = len(verdict.extra)
        said.append(f"{count} {'piece is' if count == 1 else 'pieces are'} too much.")
    said.append(f"{verdict.near[1]:.0%} of the edge lies within two line widths of yours."
                if verdict.near[1] < _ON_EDGE else "The edge follows the form.")
    return said


def of_other(question: Question, measured: Measured) -> list[str]:
    """Sentences about a light, a colour, an order or a choice."""
    if measured.azimuth is not None and measured.height is not None:
        said = [f"{measured.off:.0f}° from the light."]
        if abs(measured.azimuth) > _SMALL_TURN:
            way = "counter-clockwise" if measured.azimuth > 0 else "clockwise"
            said.append(f"{abs(measured.azimuth):.0f}° too far {way}.")
        if abs(measured.height) > _SMALL_TURN:
            way = "high" if measured.height > 0 else "low"
            said.append(f"{abs(measured.height):.0f}° too {way}: the more is in shade, the lower "
                        "the light.")
        return said
    if question.colour:
        said = [f"{measured.off:.1f} (CIEDE2000) from {question.colour}."]
        if measured.hue is not None and abs(measured.hue) > _SMALL_HUE:
            said.append(f"Its hue is {abs(measured.hue):.0f}° off, "
                        f"{'ahead of' if measured.hue > 0 else 'behind'} the right one on the "
                        "wheel.")
        return said
    if len(question.answer) > 1:
        wrong = int(measured.off)
        return ["All six are in order."] if not wrong else [
            f"{wrong} {'pair stands' if wrong == 1 else 'pairs stand'} the wrong way round."]
    return ["Right." if measured.score else "No: the other one." if question.swatches
            else f"No: number {question.answer[0] + 1} from the left."]
