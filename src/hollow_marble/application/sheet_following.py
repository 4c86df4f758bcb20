"""Forms follow the sheets they take something of: lines thrown onto skins, and paint that drives what is spread.

What a sheet had when it was last asked stands in the form's steps, so that history and takes stay what they were; following is an edit.
"""

from __future__ import annotations

from hollow_marble.application.driving import driven_now, with_assets
from hollow_marble.application.editing import Editing, Hand, Made, Proposal
from hollow_marble.application.forms import form_of, with_followers
from hollow_marble.application.throwing import thrown_now
from hollow_marble.application.workspace import Workspace
from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.documents.edit import Asset
from hollow_marble.documents.form.edits import ChangeStep
from hollow_marble.documents.form.model import Form, Step
from hollow_marble.documents.form.skin_lines import SheetLine
from hollow_marble.documents.form.spreads import Spread
from hollow_marble.store.library import Project


def follow(editing: Editing, project: Project, ident: str, hand: Hand) -> tuple[list[Made], list[str]]:
    """Let a form follow the sheets that changed since it took something of them; and what could not follow."""
    evaluator = editing.workspace.evaluator(project)
    form = form_of(project, ident)
    made, told = [], []
    for part in form.parts:
        if part.link is not None or part.locked:
            continue
        for index, step in enumerate(part.steps):
            try:
                changed, assets = _now(editing.workspace, project, form, step)
            except HollowMarbleError:
                what, is_as = ("line", "the line") if isinstance(step, SheetLine) else ("paint", "what is spread")
                told.append(
                    f"The sheet’s {what} that step {index + 1} of {part.name} follows is gone; {is_as} stays as it was."
                )
                continue
            if changed == step:
                continue

            def compose(
                now: Form,
                part: str = part.id,
                index: int = index,
                changed: Step = changed,
                assets: tuple[Asset, ...] = assets,
            ) -> Proposal:
                edit = with_followers(ChangeStep(part=part, index=index, step=changed), now, evaluator)
                return with_assets(edit, now, evaluator, assets)

            try:
                made.append(editing.make(project, ident, compose, hand))
            except HollowMarbleError as error:
                told.append(f"{part.name} could not follow its sheet: {error}")
    return made, told


def _now(workspace: Workspace, project: Project, form: Form, step: Step) -> tuple[Step, tuple[Asset, ...]]:
    """A step as the sheet it takes something of has it now, with what it names; itself where it takes nothing."""
    if isinstance(step, SheetLine):
        return thrown_now(workspace, project, form, step), ()
    if isinstance(step, Spread) and step.painted is not None:
        return driven_now(workspace, project, step)
    return step, ()
