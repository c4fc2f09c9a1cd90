"""The registry: all checks, by the question that they answer.

Adding a check is adding an entry to one of the tuples: it is run, shown, dismissed and repaired,
told by the API and the shell, and listed in docs/checks.md by it.
"""

from wardrobe.recipe.checks.against import AGAINST
from wardrobe.recipe.checks.clean import CLEAN
from wardrobe.recipe.checks.eye import EYE
from wardrobe.recipe.checks.finding import Check, QuestionKey
from wardrobe.recipe.checks.lit import LIGHT
from wardrobe.recipe.checks.order import ORDER
from wardrobe.recipe.checks.reads import READS

QUESTIONS: dict[QuestionKey, str] = {
    "reads": "Does it read?",
    "light": "Is there one light?",
    "clean": "Is it clean?",
    "ground": "Does it hold on its ground?",
    "eye": "Where does the eye go?",
    "order": "Is the stack in order?",
}

CHECKS: dict[str, Check] = {
    check.key: check for check in (*READS, *LIGHT, *CLEAN, *AGAINST, *EYE, *ORDER)}
