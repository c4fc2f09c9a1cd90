"""The tables that the screens show."""

from fastapi import APIRouter

from wardrobe import __version__
from wardrobe.core.colour import to_hex
from wardrobe.core.colour.nudge import NUDGES
from wardrobe.core.colour.starters import STARTERS
from wardrobe.core.composite.explained import EXPLAINED
from wardrobe.core.composite.modes import MODES
from wardrobe.core.finish.along_form import WAYS
from wardrobe.core.finish.planes import PLANES
from wardrobe.core.finish.textures import TEXTURES
from wardrobe.core.form import VOLUMES
from wardrobe.core.layers.operators import OPERATORS
from wardrobe.core.light.materials import MATERIALS
from wardrobe.core.light.shapes import SHADE_SHARE
from wardrobe.core.lines.intake import INTAKES
from wardrobe.core.looks.schemes import SCHEMES
from wardrobe.core.looks.vision import VISIONS
from wardrobe.core.paper.sizes import SIZES
from wardrobe.core.passes.methods import AMOUNTS, METHODS
from wardrobe.core.passes.table import PASSES
from wardrobe.core.pattern.motifs import MOTIFS
from wardrobe.core.shades.illumination import LIGHTS
from wardrobe.core.shades.steps import SPANS, TWO_COLOURS
from wardrobe.core.timing.body import ADVICE, CAUTION
from wardrobe.core.timing.pace import OMISSIONS
from wardrobe.core.timing.plan import STEPS
from wardrobe.recipe.checks import CHECKS, QUESTIONS
from wardrobe.recipe.document.name_sets import NAME_SETS
from wardrobe.server.deliverables import DELIVERABLES
from wardrobe.server.routes.common import StudioDep
from wardrobe.server.schemas.delivery import FormatInfo
from wardrobe.server.schemas.meta import (
    CheckInfo,
    LightInfo,
    Meta,
    MethodInfo,
    OperatorInfo,
    SchemeInfo,
    VisionInfo,
)

router = APIRouter(prefix="/api", tags=["meta"])


@router.get("/meta")
def get_meta(studio: StudioDep) -> Meta:
    """Tables that the screens show."""
    return Meta(
        version=__version__, steps=list(STEPS), omissions=list(OMISSIONS.values()),
        advice=list(ADVICE.values()), caution=CAUTION,
        materials=list(MATERIALS.values()), intakes=list(INTAKES.values()),
        starters=list(STARTERS), motifs=list(MOTIFS), name_sets=NAME_SETS,
        operators=[OperatorInfo(key=o.key, label=o.label, settings=o.settings)
                   for o in OPERATORS.values()],
        textures={t.key: t.label for t in TEXTURES.values()},
        ways={w.key: w.label for w in WAYS.values()},
        planes={p.key: p.label for p in PLANES.values()},
        passes={p.key: p.label for p in PASSES.values()}, volumes=dict(VOLUMES),
        methods=[MethodInfo(key=m.key, label=m.label, when=m.when, choices=m.choices)
                 for m in METHODS.values()],
        amounts=list(AMOUNTS.values()),
        lights=[LightInfo(name=n.name, key=to_hex(n.key), ambient=to_hex(n.ambient),
                          kelvin=n.kelvin, note=n.note) for n in LIGHTS.values()],
        spans=SPANS, nudges=list(NUDGES), two_colours=TWO_COLOURS,
        shade_share=SHADE_SHARE, modes=list(MODES), explained=EXPLAINED,
        papers=SIZES,
        schemes=[SchemeInfo(key=c.key, label=c.label, why=c.why) for c in SCHEMES.values()],
        visions=[VisionInfo(key=v.key, label=v.label, share=v.share)
                 for v in VISIONS.values()],
        formats=[FormatInfo(key=key, label=d.label, hint=d.hint, group=d.group, options=d.options)
                 for key, d in DELIVERABLES.items()],
        questions={key: text for key, text in QUESTIONS.items()},
        checks=[CheckInfo(key=c.key, question=c.question, label=c.label, why=c.why, limit=c.limit,
                          repairs=c.repair is not None) for c in CHECKS.values()],
        most_file_bytes=studio.settings.most_file_bytes,
        memory_bytes=studio.memory.most_bytes)
