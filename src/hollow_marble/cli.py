"""The `hollow-marble` command line."""

from __future__ import annotations

import sys
import time
from pathlib import Path
from typing import Any

import click
import platformdirs

from hollow_marble import __version__
from hollow_marble.core.errors import HollowMarbleError

DATA = click.option(
    "--data",
    type=click.Path(path_type=Path, file_okay=False),
    default=lambda: Path(platformdirs.user_data_dir("hollow-marble")),
    show_default="the user's data folder",
    help="Folder that holds the projects.",
)


class _Group(click.Group):
    def invoke(self, ctx: click.Context) -> Any:
        try:
            return super().invoke(ctx)
        except HollowMarbleError as error:
            raise click.ClickException(str(error)) from error


@click.group(cls=_Group)
@click.version_option(__version__)
def main() -> None:
    """Hollow Marble: sketch, form, surface, studio and review for consumer products.

    \b
    Start with the demo project:       hollow-marble demo
    Serve your own projects:           hollow-marble serve
    Render a shot without a browser:   hollow-marble render Linnet --shot Hero --size 960x600 -o hero.png
    Check a form's surface:            hollow-marble check Linnet --report linnet.pdf
    Check a mesh for soundness:        hollow-marble check part.stl --json

    Exit codes: 0 done, 1 it could not be done (the reason is printed), 2 the command was not understood,
    3 a benchmark ran and missed its target. `check` has its own: 0 sound, 1 something is wrong, 2 it could not be checked.
    """


def _serve(data: Path, host: str, port: int) -> None:
    from hollow_marble.web.server import serve

    click.echo(f"Hollow Marble is at http://{host}:{port}  (projects in {data}; stop with Ctrl C)")
    serve(data, host, port)


PORT = click.option("--port", default=8642, show_default=True, help="Port to listen on.")
HOST = click.option("--host", default="127.0.0.1", show_default=True, help="Address to listen on.")


@main.command("serve")
@DATA
@HOST
@PORT
def serve_command(data: Path, host: str, port: int) -> None:
    """Serve the application to a browser."""
    _serve(data, host, port)


@main.command()
@DATA
@HOST
@PORT
@click.option("--build-only", is_flag=True, help="Build the demo project and stop.")
@click.option("--fresh", is_flag=True, help="Build the demo project anew even where it is there already.")
def demo(data: Path, host: str, port: int, build_only: bool, fresh: bool) -> None:
    """Build Alder Row's Linnet where it is missing, and serve it."""
    from hollow_marble.demo.build import build_demo, has_demo, remove_demo
    from hollow_marble.store.library import Library

    library = Library(data)
    if fresh and has_demo(library):
        remove_demo(library)
    if not has_demo(library):
        from rich.progress import BarColumn, Progress, TextColumn, TimeElapsedColumn

        from hollow_marble.application.waiting import develop_takes

        with Progress(TextColumn("{task.description}"), BarColumn(), TimeElapsedColumn()) as progress:
            line = progress.add_task("Building the demo project", total=1.0)

            def say(what: str, share: float) -> None:
                progress.update(line, description=what, completed=share)

            def develop(project: Any, studio: str, wishes: Any) -> Any:
                return develop_takes(
                    project, studio, wishes, lambda done, state: say(f"Developing: {state}", 0.4 + 0.5 * done)
                )

            build_demo(library, say, develop)
    library.close()
    if not build_only:
        _serve(data, host, port)


def _size(context: click.Context, parameter: click.Parameter, value: str | None) -> tuple[int, int] | None:
    if value is None:
        return None
    try:
        width, height = (int(part) for part in value.lower().split("x"))
    except ValueError as error:
        raise click.BadParameter("write it as WIDTHxHEIGHT, for example 960x600") from error
    if not (16 <= width <= 8192 and 16 <= height <= 8192):
        raise click.BadParameter("each side can be 16 to 8192 px")
    return width, height


@main.command()
@click.argument("project")
@click.option("--shot", required=True, help="Name of the shot.")
@click.option("--size", callback=_size, help="WIDTHxHEIGHT in px; the shot's own size where it is left out.")
@click.option("--quality", type=click.Choice(["draft", "review", "final"]), default="review", show_default=True)
@click.option(
    "-o", "--output", type=click.Path(path_type=Path, dir_okay=False), required=True, help="PNG file to write."
)
@DATA
def render(project: str, shot: str, size: tuple[int, int] | None, quality: str, output: Path, data: Path) -> None:
    """Take a picture of a PROJECT's shot and write it as PNG.

    The take is kept in the project as well.
    """
    from rich.progress import BarColumn, Progress, TextColumn, TimeRemainingColumn

    from hollow_marble.application.waiting import develop_takes
    from hollow_marble.documents.studio.model import Studio
    from hollow_marble.store.assets import load_asset
    from hollow_marble.store.library import Library

    library = Library(data)
    opened = library.named(project)
    row = opened.ledger.rows("studio")[0]
    studio = opened.ledger.state(row.id)
    assert isinstance(studio, Studio)
    chosen = next((s for s in studio.shots if s.name.casefold() == shot.casefold()), None)
    if chosen is None:
        names = ", ".join(s.name for s in studio.shots) or "none yet"
        raise HollowMarbleError(f"There is no shot named {shot}. Shots here: {names}.")
    columns = (TextColumn("{task.description}"), BarColumn(), TextColumn("{task.fields[state]}"), TimeRemainingColumn())
    with Progress(*columns) as progress:
        line = progress.add_task(f"Developing {chosen.name}", total=1.0, state="")

        def show(done: float, state: str) -> None:
            progress.update(line, completed=done, state=state)

        (take,) = develop_takes(opened, row.id, [(chosen, quality, size)], show)
    if take.state != "done" or take.picture is None:
        raise HollowMarbleError(take.problem or "The take was not finished.")
    output.write_bytes(load_asset(opened.database, take.picture)[0])
    library.close()
    noise = f", noise {take.noise:.1%}" if take.noise is not None else ""
    if take.noise is not None and take.raw_noise is not None:
        noise += f" ({take.raw_noise:.0%} before cleaning)"
    click.echo(f"{output}: {take.width} × {take.height}, {take.samples} samples{noise}, {take.seconds:.1f} s")


@main.command()
@click.argument("what")
@click.option("--cage", is_flag=True, help="Read an OBJ as a cage and check its smooth skin.")
@click.option("--json", "as_json", is_flag=True, help="Print what was found as JSON.")
@click.option(
    "--report",
    type=click.Path(path_type=Path, dir_okay=False),
    help="Of a project: write the report there, as its ending says (.pdf, .html, .json).",
)
@DATA
def check(what: str, cage: bool, as_json: bool, report: Path | None, data: Path) -> None:
    """Check a project's form against its tolerances, or a mesh file (.obj, .stl, .ply) for soundness.

    WHAT is the name of a project, or a file. Exits with 1 where something that was not accepted is beyond its tolerance, and with 2 where
    it could not be checked.
    """
    from hollow_marble.application.check_command import check_file, check_project

    try:
        path = Path(what)
        if path.is_file():
            sound = check_file(path, cage, as_json)
        else:
            sound = check_project(what, data, as_json, report)
    except HollowMarbleError as error:
        click.echo(f"Error: {error}", err=True)
        sys.exit(2)
    sys.exit(0 if sound else 1)


@main.command()
@click.argument("project")
@click.option(
    "--format",
    "kind",
    type=click.Choice(["glb", "stl", "3mf", "ply", "skin.obj", "obj", "cage.ply", "png", "pdf", "svg", "ora"]),
    required=True,
    help="Of the form: its skin (glb, stl, 3mf, ply, skin.obj) or a part's cage (obj, cage.ply). Of a sheet: png, pdf, svg, ora.",
)
@click.option("--name", help="Part or sheet; the first or all where it is left out.")
@click.option("--scale", type=click.IntRange(1, 4), default=1, show_default=True, help="Px of a PNG a px of the page.")
@click.option("-o", "--output", type=click.Path(path_type=Path, dir_okay=False), required=True, help="File to write.")
@DATA
def export(project: str, kind: str, name: str | None, scale: int, output: Path, data: Path) -> None:
    """Write a PROJECT's form or sheet in an open format."""
    from hollow_marble.application.exporting import exported
    from hollow_marble.application.workspace import Workspace

    workspace = Workspace(data)
    try:
        output.write_bytes(exported(workspace, workspace.library.named(project), kind, name, scale))
    finally:
        workspace.close()
    click.echo(f"{output}: {output.stat().st_size / 1024:.0f} kB")


@main.command()
@click.option("--only", help="Run the benchmarks whose name contains this.")
@click.option("--json", "as_json", is_flag=True, help="Print a list of objects.")
def bench(only: str | None, as_json: bool) -> None:
    """Measure, each beside a peer or a limit in the same run.

    Exits with 3 where a target is missed.
    """
    folder = Path(__file__).parents[2] / "benchmarks"
    if not folder.is_dir():
        raise HollowMarbleError("The benchmarks are in the source folder, which is not here. Run this from a checkout.")
    sys.path.insert(0, str(folder.parent))
    from benchmarks.run import run

    sys.exit(0 if run(only, as_json) else 3)


@main.command(hidden=True)
@click.option("-o", "--output", type=click.Path(path_type=Path), required=True)
def openapi(output: Path) -> None:
    """Write the OpenAPI document that the interface's types are made from."""
    from hollow_marble.web.app import openapi_document

    output.write_text(openapi_document())


@main.command(hidden=True)
def warm() -> None:
    """Compile the hot loops into the cache."""
    from hollow_marble.core.warm import warm_up

    began = time.perf_counter()
    warm_up()
    click.echo(f"compiled in {time.perf_counter() - began:.0f} s")


if __name__ == "__main__":
    main()
