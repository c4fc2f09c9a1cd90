"""The looks of the kite runner: one for each watch of her guild. Invented, like her."""

from dataclasses import dataclass


@dataclass(frozen=True)
class DemoLook:
    """Base colours by part name, and a background if it has its own."""

    name: str
    bases: dict[str, str]
    background: str | None = None


def _look(name: str, background: str | None, coat: str, trousers: str, scarf: str, pennant: str,
          boots: str, straps: str, satchel: str, gloves: str, belt: str) -> DemoLook:
    return DemoLook(name, {
        "coat": coat, "trousers": trousers, "scarf": scarf, "pennant": pennant, "boots": boots,
        "boot straps": straps, "satchel": satchel, "gloves": gloves, "belt": belt,
        "goggle band": belt}, background)


RUNNER_LOOKS = (
    _look("Harbour watch", "#e4e8e6", "#2f4d70", "#d8cfbb", "#c14a3e", "#e0b04c",
          "#46404a", "#7a6552", "#8f5f3d", "#74503a", "#3d3236"),
    _look("Orchard round", "#efead6", "#5f7a42", "#dccca4", "#b4492f", "#d98e3a",
          "#6a4a33", "#8a6238", "#9a6634", "#83582f", "#503c2a"),
    _look("Saffron day", "#f2e9d9", "#cf8b33", "#efe2c6", "#3c7178", "#2f6a73",
          "#754a33", "#98623a", "#8c4f31", "#7d482c", "#573828"),
    _look("Storm flag", "#dfe2e4", "#69727c", "#bcc1c6", "#c5403b", "#dd4a3f",
          "#484b54", "#70747d", "#585c64", "#52555d", "#35373e"),
    _look("Heather walk", "#ece6e2", "#7b5b7c", "#cfc1b0", "#8cab79", "#5c8a6c",
          "#563f4a", "#80606a", "#8b6449", "#70504e", "#48333b"),
    _look("Night mail", "#3a3f5c", "#4a4570", "#9a9fb6", "#dcc76c", "#8f6cb6",
          "#3a3648", "#625a78", "#6a5566", "#564858", "#312c3a"),
)
