"""Numbers that a person sets: what they are called, and between what they lie."""

from collections.abc import Mapping
from dataclasses import dataclass

from wardrobe.core.errors import quoted


@dataclass(frozen=True)
class Setting:
    """A number that can be changed.

    Attributes
    ----------
    name : str
        Key in the amounts.
    label : str
    low, high, usual : float
    unit : str
        ``%`` (of a share 0..1), a degree sign, ``px`` of the picture, or nothing.
    """

    name: str
    label: str
    low: float
    high: float
    usual: float
    unit: str


def check_amounts(amounts: Mapping[str, float], table: Mapping[str, Setting],
                  what: str = "amount") -> None:
    """Raise ValueError unless all are named in the table and lie within its bounds."""
    for name, value in amounts.items():
        if name not in table:
            raise ValueError(f"unknown {what} {quoted(name)}; one of {', '.join(table)} is "
                             "expected")
        if not table[name].low <= value <= table[name].high:
            raise ValueError(f"“{name}” lies between {table[name].low:g} and "
                             f"{table[name].high:g}")
