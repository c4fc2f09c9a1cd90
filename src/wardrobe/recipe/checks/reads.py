"""Does it read? Parts told from each other, passes from their base, values used."""

from wardrobe.core.shades.steps import SPANS, TWO_COLOURS
from wardrobe.recipe.checks.apart import part_apart
from wardrobe.recipe.checks.borders import (
    ALIKE,
    CONFUSED,
    SAME_VALUE,
    Confused,
    RunTogether,
    SameValue,
    of_borders,
)
from wardrobe.recipe.checks.finding import Check, Limit
from wardrobe.recipe.checks.passes import marked_passes, restepped
from wardrobe.recipe.checks.seen import ids_of, picture_seen
from wardrobe.recipe.checks.values import (
    FEW_VALUES,
    LARGE,
    SKIN_PLACE,
    DullSkin,
    FewValues,
    FlatParts,
    broken,
    lighter_skin,
)
from wardrobe.recipe.document.model import ground_rows

_MOKRZYCKI = ("W. Mokrzycki, M. Tatol, “Colour difference ΔE – a survey”, 2011: from 5 on two "
              "colours are seen")
_STEPS = "docs/steps.md: what a change of 20 to 30 % of HSB brightness gives"

READS: tuple[Check, ...] = (
    Check("run together", "reads", "Two parts run together",
          "Where value and colour are alike on both sides, only the line holds the parts apart, "
          "and in a small picture not even that.",
          Limit(ALIKE, "ΔE", "own", "less than the faintest shade from its base"),
          of_borders(RunTogether),
          part_apart),
    Check("same value", "reads", "Two parts of one value",
          "What differs only by hue is one shape to whoever squints.",
          Limit(SAME_VALUE, "L*", "own", "far less than a step of the value scale"),
          of_borders(SameValue),
          part_apart),
    Check("confused", "reads", "Two parts alike to some eyes",
          "One man in twelve sees red and green as one; a difference of value helps all.",
          Limit(CONFUSED, "ΔE", "published", "Machado, Oliveira, Fernandes 2009 for what is seen; "
                + _MOKRZYCKI),
          of_borders(Confused),
          part_apart),
    Check("faint", "reads", "A pass hardly shows",
          "A shade or light that cannot be told from its base is work for nothing.",
          Limit(SPANS["shade"].faint, "ΔE", "common practice", _STEPS), marked_passes("faint"),
          restepped),
    Check("heavy", "reads", "A pass is too heavy",
          "So large a step reads as another colour rather than as light.",
          Limit(SPANS["shade"].heavy, "ΔE", "common practice", _STEPS), marked_passes("heavy"),
          restepped),
    Check("in the line", "reads", "A shade is lost in the lines",
          "A shade as dark as the lines joins them and swells them into blots.",
          Limit(TWO_COLOURS, "ΔE", "published", _MOKRZYCKI), marked_passes("in the line"),
          restepped),
    Check("flat", "reads", "A large part is flat",
          "Large parts in one colour look cut out of paper.",
          Limit(100 * LARGE, "% of the figure", "common practice",
                "common practice, no published source"),
          lambda desk: FlatParts(picture_seen(desk), ids_of(desk.recipe),
                                 ground_rows(desk.recipe.parts)), broken),
    Check("few values", "reads", "Few values",
          "With a third of the values between black and white the figure has no weight.",
          Limit(FEW_VALUES, "L*", "own", "a third of the scale"),
          lambda desk: FewValues(picture_seen(desk))),
    Check("dull skin", "reads", "Light skin is dull",
          "Light skin lies among the brightest fifth of the values; below it looks tired or ill.",
          Limit(100 * SKIN_PLACE, "% of the values", "common practice",
                "common practice, no published source"),
          lambda desk: DullSkin(picture_seen(desk), tuple(
              (row, p.id, p.base) for row, p in enumerate(desk.recipe.parts, start=1)
              if p.material == "skin" and p.scenery is None)), lighter_skin),
)
