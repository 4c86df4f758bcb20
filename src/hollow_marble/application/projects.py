"""Projects that come and go while others work in them."""

from __future__ import annotations

from hollow_marble.application.workspace import Workspace
from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.store.library import Project
from hollow_marble.store.takes import unfinished_takes


def rename(workspace: Workspace, ident: str, name: str, maker: str) -> Project:
    """Give a project another name and maker, in every window."""
    project = workspace.library.rename(ident, name, maker)
    workspace.publish("", "projects", {})
    return project


def put_away(workspace: Workspace, ident: str) -> None:
    """Take a project off the shelf. Its file stays, and it can be brought back."""
    project = workspace.project(ident)
    if unfinished_takes(project.database):
        raise HollowMarbleError(
            f"{project.entry.name} has a take in the darkroom. Wait until it is done, or cancel it, and put it away then."
        )
    workspace.library.put_away(ident)
    workspace.publish("", "projects", {})
