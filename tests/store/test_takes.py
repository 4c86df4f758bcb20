"""Pictures in the queue: what is kept of each, and in which order."""

from __future__ import annotations

import pytest

from hollow_marble.core.errors import NotFoundError
from hollow_marble.documents.studio.model import Setting, Shot
from hollow_marble.store.library import Library, Project
from hollow_marble.store.takes import add_take, get_take, list_takes, update_take


def shot(name: str = "Hero") -> Shot:
    return Shot(id=name.lower(), name=name, width=640, height=400, setting=Setting(), form="f", form_edit=3)


def ask(project: Project, name: str = "Hero") -> str:
    studio = project.ledger.rows("studio")[0].id
    return add_take(project.database, studio, shot(name), [("s", 12), ("t", None)], "review", (640, 400), 32).id


def test_a_take_keeps_the_shot_as_it_was_when_asked_for(project: Project) -> None:
    take = get_take(project.database, ask(project))
    assert take.frozen == shot()
    assert take.sheets == [("s", 12), ("t", None)]
    assert (take.state, take.samples, take.wanted, take.quality) == ("queued", 0, 32, "review")
    assert (take.width, take.height, take.picture, take.noise) == (640, 400, None, None)


def test_takes_stand_in_the_order_they_were_asked_for(project: Project) -> None:
    asked = [ask(project, name) for name in ("Hero", "Front", "Back")]
    assert [take.id for take in list_takes(project.database)] == asked
    assert [take.place for take in list_takes(project.database)] == [1, 2, 3]


def test_a_take_gets_on(project: Project) -> None:
    ident = ask(project)
    update_take(project.database, ident, state="developing", samples=8, noise=0.25, seconds=1.5, engine="llvm_ad_rgb")
    take = get_take(project.database, ident)
    assert (take.state, take.samples, take.noise, take.seconds, take.engine) == (
        "developing", 8, 0.25, 1.5, "llvm_ad_rgb",
    )  # fmt: skip
    update_take(project.database, ident, state="failed", problem="The lamp fell over.")
    assert get_take(project.database, ident).problem == "The lamp fell over."


def test_takes_survive_closing_the_project(library: Library, project: Project) -> None:
    ident = ask(project)
    update_take(project.database, ident, state="done", samples=32)
    library.close()
    again = library.named("Linnet")
    assert get_take(again.database, ident).samples == 32


def test_takes_that_are_not_there_are_named(project: Project) -> None:
    with pytest.raises(NotFoundError, match="no such take"):
        get_take(project.database, "gone")
