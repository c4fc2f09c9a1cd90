"""Writes docs/steps.md: what common practice amounts to, and how well one wash can serve."""

from pathlib import Path

import numpy as np
from scipy.optimize import differential_evolution

from benchmarks.layers import best_of
from wardrobe.core.colour import delta_e_2000, from_hex, srgb_to_lab
from wardrobe.core.shades.even import even_out
from wardrobe.core.shades.practice import GENTLE, STRONG, USUAL, practice_steps, wide_bases
from wardrobe.core.shades.search import nearest_factor
from wardrobe.core.shades.steps import SPANS, TWO_COLOURS

REPORT = Path(__file__).parent.parent / "docs" / "steps.md"
WANTED = 16.0
SHADES = {"cool grey": "#8a94a6", "blue": "#5b6ea8", "purple": "#7a5fa0", "pink": "#c9879f"}
STRENGTHS = (0.36, 0.5, 0.64, 0.82, 1.0)


def random_sets(count: int = 1000) -> np.ndarray:
    """Sets of eight bases, shape (count, 8, 3), range 0..1."""
    return np.random.default_rng(20).integers(0, 256, (count, 8, 3)) / 255


def worst(bases: np.ndarray, factor: np.ndarray) -> float:
    steps = delta_e_2000(srgb_to_lab(bases), srgb_to_lab(bases * factor))
    return float(np.abs(steps - WANTED).max())


def measure_even_out() -> dict[str, float]:
    """Seconds for 8 bases: ours, and SciPy's differential evolution; ours for 22 parts."""
    bases = random_sets(1)[0]
    many = [from_hex(f"#{v:06x}") for v in np.random.default_rng(1).integers(0, 1 << 24, 22)]
    return {
        "eight": best_of(lambda: nearest_factor(bases, np.full(8, WANTED)), 9),
        "scipy": best_of(lambda: differential_evolution(
            lambda f: worst(bases, f), [(0, 1)] * 3, seed=1, tol=1e-8, maxiter=120), 1),
        "parts": best_of(lambda: even_out(many, 13.5), 5),
    }


def main() -> None:
    rows = []
    for key in ("shade", "deep shade", "light"):
        for change in (GENTLE, USUAL, STRONG):
            p = np.percentile(practice_steps(key, change), [5, 25, 50, 75, 95])
            rows.append(f"| {key} | {change:.0%} | " + " | ".join(f"{v:.1f}" for v in p) + " |")
    spans = [f"| {key} | {s.wanted:.1f} | {s.faint:.1f} | {s.heavy:.1f} |"
             for key, s in SPANS.items()]
    sets = random_sets()
    ours = np.array([worst(b, nearest_factor(b, np.full(8, WANTED))) for b in sets])
    usual = {(name, s): np.array([worst(b, 1 - s + s * np.array(from_hex(c)) / 255)
                                  for b in sets])
             for name, c in SHADES.items() for s in STRENGTHS}
    best = np.min(list(usual.values()), axis=0)
    single = min(usual, key=lambda k: float(np.median(usual[k])))
    few = sets[:40]
    scipy = np.array([differential_evolution(lambda f, b=b: worst(b, f), [(0, 1)] * 3, seed=1,
                                             tol=1e-8, maxiter=150).fun for b in few])
    gap = ours[:40] - scipy
    REPORT.write_text(f"""# Steps: how far a shade should be from its base

Written by `make accuracy`. Steps are CIEDE2000 differences; `tests/reference/
test_shades.py` derives the limits again.

## From the trade's figures
A shade has 20 to 30 % less HSB brightness than its base and its hue turned slightly to red; a
second shade does so again and is more saturated; a light is 20 to 30 % brighter (common practice,
no published source). Over {len(wide_bases())} bases (all starters, and an even grid of OKLCH as far
as sRGB reaches) that amounts to these steps:

| pass | change | 5 % | 25 % | median | 75 % | 95 % |
|---|---|---|---|---|---|---|
{chr(10).join(rows)}

- The **wanted** step is the median of a change of 25 %.
- A step is **faint** below the lower quartile of a change of 20 %: three quarters of what is done
  by hand, gently, shows more.
- It is **heavy** above the 95th percentile of a change of 30 %: hardly anything that is done by
  hand, boldly, shows as much.

| pass | wanted | faint below | heavy above |
|---|---|---|---|
{chr(10).join(spans)}

From published work: observers see two different colours, not two versions of one, from a
difference of about {TWO_COLOURS:.0f} (W. Mokrzycki, M. Tatol, "Colour difference dE - a survey",
Machine Graphics and Vision 20, 2011; from memory). So a deep shade that is nearer than that to the
shade around it, and a glint that is nearer to its light, are faint too; and a shade that is nearer
than that to the colour of the lines, or darker than they are, is marked *in the line*: its shape
can no longer be told from them. The limit of the lights is the same figure as that of the shades
by coincidence of the two distributions, not by choice.

Two bases that touch are *colours alike* below the faint limit of a shade, for a border that differs
less than a shade from its base reads as one; and *values alike* below {TWO_COLOURS:.0f} L\\*, which
for greys is the same difference.

## How well one wash can do
1,000 random sets of 8 bases, wanted step {WANTED:.0f}; figures are the worst part's distance from
it.

| shade | median | 95 % |
|---|---|---|
| found by even out | {np.median(ours):.1f} | {np.percentile(ours, 95):.1f} |
| the best of {len(usual)} usual ones for each set (grey, blue, purple, pink at 36 to 100 %) | \
{np.median(best):.1f} | {np.percentile(best, 95):.1f} |
| the best single usual one ({single[0]} at {single[1]:.0%}) | {np.median(usual[single]):.1f} | \
{np.percentile(usual[single], 95):.1f} |

Even out is better than every usual shade on {int((ours < best).sum())} of 1,000 sets; the smallest
lead is {(best - ours).min():.2f}. Against SciPy's differential evolution on {len(few)} sets it is
at most {gap.max():.2f} worse and up to {-gap.min():.2f} better.
""")
    print(REPORT.read_text())


if __name__ == "__main__":
    main()
