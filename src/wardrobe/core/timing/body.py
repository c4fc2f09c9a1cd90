"""Advice on breaks, with where it comes from. Advice, not medicine."""

from dataclasses import dataclass

CAUTION = "Advice, not medicine; pain that stays is for a clinician."


@dataclass(frozen=True)
class Advice:
    """Something that is good to do now and then.

    Attributes
    ----------
    key, label, text : str
    every : float
        Minutes of work between two times, as advised.
    rest : float
        Minutes of not working that count as having done it.
    source : str
    """

    key: str
    label: str
    text: str
    every: float
    rest: float
    source: str


# The figures of the two sources are from memory.
ADVICE = {a.key: a for a in (
    Advice("eyes", "Eyes", "Look at something far away for twenty seconds.", 20.0, 1 / 3,
           "The 20-20-20 rule of optometrists: every 20 minutes, 20 seconds, 20 feet away."),
    Advice("hands", "Hands and back", "Let go of the pen, stretch, stand up.", 50.0, 5.0,
           "Display Screen Equipment Regulations, guidance L26 (HSE): short and frequent; 5 to 10 "
           "minutes in every hour rather than 20 in every two."),
)}
