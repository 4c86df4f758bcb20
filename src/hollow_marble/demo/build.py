"""Build the demo: Linnet with five sheets, a form, a studio with two takes, a board with a verdict; and the forms of
Brindle, Sorrel and Tansy."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from hollow_marble.core.errors import NotFoundError
from hollow_marble.demo.brindle import light_brindle, shape_brindle
from hollow_marble.demo.designer import Designer
from hollow_marble.demo.form import shape_form
from hollow_marble.demo.sheets.clean import draw_clean
from hollow_marble.demo.sheets.construction import draw_construction
from hollow_marble.demo.sheets.ideas import draw_ideas
from hollow_marble.demo.sheets.presentation import draw_presentation
from hollow_marble.demo.sheets.rendering import draw_rendering
from hollow_marble.demo.sorrel import light_sorrel, shape_sorrel
from hollow_marble.demo.studio import light_studio
from hollow_marble.demo.tansy import light_tansy, shape_tansy
from hollow_marble.documents.board.edits import GiveVerdict, HangTake, PinComment
from hollow_marble.documents.brief.edits import SetEnvelope, WriteBrief
from hollow_marble.documents.studio.model import Shot, Studio
from hollow_marble.store.library import Library, Project
from hollow_marble.store.takes import Take

NAME, SECOND, THIRD, FOURTH, MAKER = "Linnet", "Brindle", "Sorrel", "Tansy", "Alder Row"
PRODUCTS = frozenset((NAME, SECOND, THIRD, FOURTH))
WHAT = "A pocket recorder for birdsong. It reads as a pebble first; one hand, one thumb, any weather."
NOTES = "For people who walk before breakfast. The level dial is found without looking. Nothing on it shines at a bird."
ENVELOPE = (64.0, 38.0, 125.0)
"""With the lanyard ring; what fits a shirt pocket."""

Say = Callable[[str, float], None]
Develop = Callable[[Project, str, list[tuple[Shot, str, tuple[int, int] | None]]], list[Take]]


def has_demo(library: Library) -> bool:
    """Whether the demo project is there."""
    try:
        library.named(NAME)
    except NotFoundError:
        return False
    return True


def build_demo(library: Library, say: Say, develop: Develop | None) -> Project:
    """Build the demo's projects.

    say : hears what goes on and the share done
    develop : asks for takes, and may wait for them; None leaves the takes and the board out
    """
    say("Shaping Brindle, the kettle", 0.01)
    kettle = Designer(library.create(SECOND, MAKER))
    light_brindle(kettle, shape_brindle(kettle))
    say("Turning Sorrel, the dropper bottle", 0.03)
    bottle = Designer(library.create(THIRD, MAKER))
    light_sorrel(bottle, shape_sorrel(bottle))
    say("Sewing Tansy, the wrist strap", 0.035)
    strap = Designer(library.create(FOURTH, MAKER))
    light_tansy(strap, shape_tansy(strap))
    return build_linnet(library, say, develop)


def build_linnet(library: Library, say: Say, develop: Develop | None) -> Project:
    """Build Linnet alone, as `build_demo` does."""
    say("Opening a project for Alder Row", 0.04)
    project = library.create(NAME, MAKER)
    designer = Designer(project)
    brief = designer.document("brief")
    designer.edit(brief, WriteBrief(what=WHAT))
    designer.edit(brief, WriteBrief(notes=NOTES))
    designer.edit(brief, SetEnvelope(envelope=ENVELOPE))
    say("Drawing the first morning’s sheet", 0.05)
    ideas = draw_ideas(designer)
    say("Constructing it in perspective", 0.1)
    construction, _ = draw_construction(designer)
    say("Drawing clean lines", 0.14)
    draw_clean(designer)
    say("Rendering it by hand", 0.18)
    rendering = draw_rendering(designer)
    say("Composing the page to present", 0.26)
    draw_presentation(designer, rendering, ideas)
    say("Shaping the form", 0.3)
    form = shape_form(designer, ideas, construction)
    say("Setting up the studio", 0.35)
    light_studio(designer, form)
    if develop is not None:
        say("Developing two takes", 0.4)
        photograph(project, develop, lambda: say("Hanging the board", 0.97))
    say("Ready", 1.0)
    return project


def photograph(project: Project, develop: Develop, then: Callable[[], None] = lambda: None) -> None:
    """Take the demo's two pictures, and hang them with what Ines and Tomas say of them."""
    studio = project.ledger.rows("studio")[0].id
    state = project.ledger.state(studio)
    assert isinstance(state, Studio)
    hung = [shot for shot in state.shots if shot.id in ("hero", "front")]
    takes = develop(project, studio, [(shot, "review", None) for shot in hung])
    then()
    _hang(Designer(project), takes)


def remove_demo(library: Library) -> None:
    """Close the demo's projects and move their files out of the way (nothing is deleted)."""
    names = {entry.name for entry in library.entries()} & PRODUCTS
    paths: list[Path] = [library.named(name).database.path for name in sorted(names)]
    library.close()
    for path in paths:
        number = 1
        while (aside := path.with_suffix(f".old{number}")).exists():
            number += 1
        path.rename(aside)
        for extra in ("-wal", "-shm"):
            path.with_name(path.name + extra).unlink(missing_ok=True)


def _hang(designer: Designer, takes: list[Take]) -> None:
    board = designer.document("board")
    hero, front = takes
    for take in takes:
        designer.edit(board, HangTake(take=take.id, name=f"{take.name}, {take.quality}"))
    designer.edit(
        board,
        PinComment(
            id="p1", take=hero.id, x=0.47, y=0.42, text="The dial reads first. Good: it is what the hand looks for.",
            who="Ines", at="2026-03-04T09:12:00Z",
        ),
    )  # fmt: skip
    designer.edit(
        board,
        PinComment(
            id="p2", take=hero.id, x=0.52, y=0.66, text="Could the window sit a little lower, clear of the thumb?",
            who="Tomas", at="2026-03-04T09:31:00Z",
        ),
    )  # fmt: skip
    designer.edit(
        board,
        GiveVerdict(
            take=hero.id, decision="keep", reason="Reads as a pebble first and a recorder second. Go on with Moss.",
            who="Ines", at="2026-03-04T10:05:00Z",
        ),
    )  # fmt: skip
    designer.edit(
        board,
        GiveVerdict(
            take=front.id, decision="change", reason="Too symmetrical to tell the depth; show more of the flank.",
            who="Tomas", at="2026-03-04T10:07:00Z",
        ),
    )  # fmt: skip
