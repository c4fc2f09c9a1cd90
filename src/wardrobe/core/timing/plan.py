"""Planned minutes, step by step."""

# Minutes of a piece of 37 minutes: flats take longest, shadow and light come next (common practice,
# no published source).
_SHARES = {"lines": 3, "parts": 12, "colour": 6, "light": 8, "finish": 3, "looks": 2, "check": 2,
           "deliver": 1}

STEPS = tuple(_SHARES)


def plan_steps(minutes: float) -> dict[str, float]:
    """Share out planned minutes over the steps.

    Parameters
    ----------
    minutes : float
        For the whole piece.

    Returns
    -------
    dict of str to float
        Minutes by step, in the order of the work.
    """
    total = sum(_SHARES.values())
    return {step: minutes * _SHARES[step] / total for step in STEPS}
