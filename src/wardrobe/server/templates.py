"""Stack templates in the database."""

from sqlalchemy import select
from sqlalchemy.orm import Session, sessionmaker

from wardrobe.recipe.document.model import Recipe
from wardrobe.server.db.models import StackTemplateRow
from wardrobe.server.problems import NotFoundError
from wardrobe.server.schemas.delivery import StackTemplate


class TemplateStore:
    """All reads and writes of stack templates; every write is one transaction."""

    def __init__(self, sessions: sessionmaker[Session]) -> None:
        self._sessions = sessions

    def all(self) -> list[StackTemplate]:
        """All templates by name."""
        with self._sessions() as session:
            rows = session.scalars(select(StackTemplateRow).order_by(StackTemplateRow.name))
            return [_template(row) for row in rows]

    def save(self, name: str, recipe: Recipe) -> StackTemplate:
        """Keep a recipe's stack settings and passes; a template of the same name is replaced."""
        with self._sessions.begin() as session:
            row = session.scalars(select(StackTemplateRow)
                                  .where(StackTemplateRow.name == name)).first()
            row = row or StackTemplateRow(name=name)
            row.delivery = recipe.delivery.model_dump(mode="json")
            row.passes = recipe.passes.model_dump(mode="json")
            session.add(row)
            session.flush()
            return _template(row)

    def remove(self, template_id: int) -> None:
        """Delete a template; pieces made from it stay as they are."""
        with self._sessions.begin() as session:
            row = session.get(StackTemplateRow, template_id)
            if row is None:
                raise NotFoundError("This template is not there.")
            session.delete(row)


def _template(row: StackTemplateRow) -> StackTemplate:
    return StackTemplate.model_validate({"id": row.id, "name": row.name,
                                         "delivery": row.delivery, "passes": row.passes})
