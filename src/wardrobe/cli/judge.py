"""The checks of a piece from a shell."""

import json
from pathlib import Path

from pydantic import TypeAdapter

from wardrobe.cli.colour import read_recipe
from wardrobe.cli.looks import with_drawing
from wardrobe.core.errors import WardrobeError
from wardrobe.recipe.checks import QUESTIONS
from wardrobe.recipe.checks.report import Finding, check_piece
from wardrobe.recipe.document.look import PIECE
from wardrobe.recipe.exchange.files import replacing

_TOLD: TypeAdapter[list[Finding]] = TypeAdapter(list[Finding])


def judge_file(recipe_path: Path, line: Path, report: Path | None, look: str | None) -> None:
    """Print what the checks notice, question by question; write it as JSON.

    Raises
    ------
    WardrobeError
        With a message for the user; a file that was there before is untouched.
    """
    recipe, deriver = with_drawing(read_recipe(recipe_path), recipe_path, line)
    worn = PIECE if look is None else next((k.id for k in recipe.looks if k.name == look), None)
    if worn is None:
        raise WardrobeError(f"{recipe_path} has no look “{look}”.")
    findings = check_piece(deriver, recipe, look=worn)
    if report:
        with replacing(report) as path:
            path.write_text(json.dumps(
                {"findings": _TOLD.dump_python(findings, mode="json")}, indent=1) + "\n")
    for question, text in QUESTIONS.items():
        mine = [f for f in findings if f.question == question]
        print(f"{text} {'' if mine else 'Yes.'}".rstrip())
        for finding in mine:
            print(f"  {finding.words}" + (f" [{finding.repair.label}]" if finding.repair else ""))
    print(f"{len(findings)} findings")
