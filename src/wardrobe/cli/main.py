"""``wardrobe``: serve and demo, and the steps of the work from a shell."""

import os
import sys
from collections.abc import Callable
from pathlib import Path
from typing import TYPE_CHECKING, Annotated

import typer

from wardrobe import __version__
from wardrobe.core.errors import WardrobeError

if TYPE_CHECKING:
    from wardrobe.server.settings import Settings

app = typer.Typer(add_completion=False, no_args_is_help=True, rich_markup_mode=None,
                  help="Wardrobe: the colour stage of an illustration.")

Port = Annotated[int, typer.Option(help="Port on 127.0.0.1.")]
DataDir = Annotated[Path | None, typer.Option(help="Folder of the pieces [default: ./data].")]

LongEdge = Annotated[int, typer.Option(min=200, max=12_000, help="Pixels of the longer edge that "
                                       "an SVG is drawn at.")]


def _version(show: bool) -> None:
    if show:
        print(f"wardrobe {__version__}")
        raise typer.Exit


@app.callback()
def main(version: Annotated[bool, typer.Option("--version", callback=_version, is_eager=True,
                                               help="Show the version.")] = False) -> None:
    """Line art in, a lit and layered picture out."""


@app.command(epilog="Example: wardrobe serve --port 8610 --data-dir ~/pieces")
def serve(port: Port = 8610, data_dir: DataDir = None) -> None:
    """Start the application in this terminal."""
    from wardrobe.server.run import serve as run

    run(_settings(port, data_dir))


@app.command(epilog="Example: wardrobe demo --reset --port 8610")
def demo(port: Port = 8610, data_dir: DataDir = None,
         reset: Annotated[bool, typer.Option(help="Put the demo pieces back as they were; your "
                                                  "own pieces stay.")] = False,
         start: Annotated[bool, typer.Option(help="Start the application afterwards.")] = True,
         ) -> None:
    """Start the application with the demo pieces in it."""
    from wardrobe.server.demo import ensure_demo
    from wardrobe.server.run import check_port
    from wardrobe.server.run import serve as run

    settings = _settings(port, data_dir)
    if start:
        check_port(settings.host, port)
    ensure_demo(settings, reset)
    if start:
        run(settings)


@app.command(epilog="Example: wardrobe batch frames/ --like hero.zip --do flats,deliver "
                    "--out done/")
def batch(
    what: Annotated[str, typer.Argument(help="A series, by its title or number, or a folder of "
                                             "drawings.")],
    out: Annotated[str, typer.Option(help="Folder of the files, and of what has been done: started "
                                          "again, a batch goes on there.")],
    do: Annotated[str, typer.Option(help="Stages, in this order: flats, shade, "
                                         "deliver.")] = "flats,shade,deliver",
    like: Annotated[list[Path] | None, typer.Option(help="Archives of coloured pieces that parts "
                                                         "are carried over from.")] = None,
    workers: Annotated[int | None, typer.Option(min=1, help="Pictures at a time [default: as many "
                                                "as cores and memory are enough for].")] = None,
    scheduler: Annotated[str | None, typer.Option(help="Address of a Dask scheduler, or “local” "
                                                       "to start one.")] = None,
    long_edge: LongEdge = 3508,
    data_dir: DataDir = None,
) -> None:
    """Stages of work over many pictures: resumed where they were left."""
    from wardrobe.cli.batch import run_batch

    if run_batch(_settings(8610, data_dir), what, do, out, like or [], workers, scheduler,
                 long_edge):
        raise typer.Exit(2)


@app.command(epilog="Example: wardrobe lines photo.jpg --out lines.png --json report.json")
def lines(
    drawing: Annotated[Path, typer.Argument(help="Any drawing: PNG, JPEG, WebP, TIFF or SVG.")],
    out: Annotated[Path | None, typer.Option(help="Lines as PNG to write: black, with the ink "
                                                  "as opacity.")] = None,
    report: Annotated[Path | None, typer.Option("--json", help="Report to write: kind, line "
                                                "width, closed areas, gaps.")] = None,
    kind: Annotated[str | None, typer.Option(help="What came in, if it is recognised wrongly: "
                                             "transparent, black on white, grey scan, "
                                             "photo.")] = None,
    paper: Annotated[float | None, typer.Option(help="Darkness that is still paper, 0 to "
                                                     "0.6.")] = None,
    ink: Annotated[float | None, typer.Option(help="Darkness that is half covered, 0.02 to "
                                                   "0.98.")] = None,
    grain: Annotated[float | None, typer.Option(help="Marks smaller than this many px are "
                                                     "dust.")] = None,
    weight: Annotated[float | None, typer.Option(help="Change of the lines' width, px.")] = None,
    edge: Annotated[str | None, typer.Option(help="smooth, hard, or 'hard, smoothed'.")] = None,
    long_edge: LongEdge = 3508,
) -> None:
    """Prepare the lines of a drawing, without the application."""
    from wardrobe.cli.lines import prepare_file

    prepare_file(drawing, out, report, long_edge,
                 {"kind": kind, "paper": paper, "threshold": ink, "grain": grain,
                  "weight": weight, "edge": edge})


@app.command(epilog="Example: wardrobe gaps lines.png --json gaps.json")
def gaps(
    line: Annotated[Path, typer.Argument(help="Line art: PNG, JPEG, WebP, TIFF or SVG.")],
    report: Annotated[Path | None, typer.Option("--json", help="File to write; without it the "
                                                "gaps are printed.")] = None,
    long_edge: LongEdge = 3508,
) -> None:
    """List the gaps in a drawing's lines as JSON, the doubtful ones first in each group."""
    from wardrobe.cli.lines import gaps_of_file

    gaps_of_file(line, report, long_edge)


@app.command(epilog="Example: wardrobe flats lines.png --clicks clicks.json --out flats.png")
def flats(
    line: Annotated[Path, typer.Argument(help="Line art: PNG, JPEG, WebP, TIFF or SVG.")],
    clicks: Annotated[Path, typer.Option(help='JSON list of {"x", "y", "name"}; a click named '
                                              '"outside" claims the ground.')],
    out: Annotated[Path, typer.Option(help="16-bit PNG to write: each pixel's click, from 1; 0 "
                                           "is the ground.")],
    long_edge: LongEdge = 3508,
) -> None:
    """Share out a drawing among clicks, one a colour, even where lines have gaps."""
    from wardrobe.cli.flats import flats_of_file

    flats_of_file(line, clicks, out, long_edge)


@app.command(epilog="Example: wardrobe sheet --recipe figure.json --json sheet.json")
def sheet(
    recipe: Annotated[Path, typer.Option(help="Recipe as JSON, as colour --save-recipe writes "
                                              "it.")],
    report: Annotated[Path, typer.Option("--json", help="File to write: every part, pass, "
                                                        "colour, step and mark.")],
) -> None:
    """Write the colours that a recipe shows in every part and pass, and how they read."""
    from wardrobe.cli.sheet import write_sheet

    write_sheet(recipe, report)


@app.command(epilog='Example: wardrobe evenout --bases "#e9b690,#3f7377" --step 16 --json out.json')
def evenout(
    bases: Annotated[str, typer.Option(help="Base colours, separated by commas.")],
    report: Annotated[Path, typer.Option("--json", help="File to write.")],
    step: Annotated[float, typer.Option(min=1, max=60, help="Wanted CIEDE2000 step.")] = 13.5,
    hue: Annotated[float | None, typer.Option(min=0, max=360, help="OKLCH hue that the shade "
                                              "should have, within 15 degrees.")] = None,
    screen: Annotated[bool, typer.Option(help="A light on screen instead of a shade on "
                                              "multiply.")] = False,
) -> None:
    """Find the one shade for which all bases read alike."""
    from wardrobe.cli.sheet import write_even_out

    write_even_out(bases, step, report, hue, screen)


@app.command(epilog="Example: wardrobe shade lines.png --labels labels.png --azimuth 130 "
                    "--height 40 --out masks")
def shade(
    line: Annotated[Path, typer.Argument(help="Line art: PNG, JPEG, WebP, TIFF or SVG.")],
    labels: Annotated[Path, typer.Option(help="Grey PNG of 8 or 16 bits, a number a part; 0 is "
                                              "the ground.")],
    out: Annotated[Path, typer.Option(help="Folder to write shade.png, deep.png, cast.png, "
                                           "light.png and rim.png to.")],
    azimuth: Annotated[float, typer.Option(min=-360, max=720, help="Direction of the light, "
                                           "degrees counter-clockwise from the right.")] = 128,
    height: Annotated[float, typer.Option(min=-60, max=90, help="Degrees above the picture "
                                          "plane.")] = 38,
) -> None:
    """Draw the shade, deep shade, cast shadow, light and rim of a drawing as masks."""
    from wardrobe.cli.light import shade_file

    shade_file(line, labels, azimuth, height, out)


@app.command(epilog="Example: wardrobe lightaudit --labels labels.png --shade shade.png --json "
                    "light.json")
def lightaudit(
    labels: Annotated[Path, typer.Option(help="Grey PNG of 8 or 16 bits, a number a part; 0 is "
                                              "the ground.")],
    shade_mask: Annotated[Path, typer.Option("--shade", help="Mask: white in the shade.")],
    report: Annotated[Path, typer.Option("--json", help="File to write: label, azimuth, "
                                                        "confidence.")],
    line: Annotated[Path | None, typer.Option(help="Line art, if there is one.")] = None,
) -> None:
    """Tell where the light comes from that a drawn shade implies, part by part."""
    from wardrobe.cli.light import audit_file

    audit_file(labels, shade_mask, line, report)


@app.command(epilog="Example: wardrobe colour figure.svg --ora figure.ora --png figure.png")
def colour(
    line: Annotated[Path, typer.Argument(help="Line art: PNG, JPEG, WebP, TIFF or SVG.")],
    recipe: Annotated[Path | None, typer.Option(help="Recipe as JSON; without it parts and "
                                                     "colours are found automatically.")] = None,
    ora: Annotated[Path | None, typer.Option(help="Layered OpenRaster file to write.")] = None,
    png: Annotated[Path | None, typer.Option(help="Flat PNG to write.")] = None,
    save_recipe: Annotated[Path | None, typer.Option(help="Write the recipe used as JSON, to "
                                                          "change and pass back.")] = None,
    long_edge: LongEdge = 3508,
) -> None:
    """Colour and shade one drawing, without the application."""
    from wardrobe.cli.colour import colour_file

    colour_file(line, recipe, ora, png, save_recipe, long_edge)


@app.command(epilog="Example: wardrobe flatten figure.ora --png figure.png")
def flatten(
    layered: Annotated[Path, typer.Argument(help="Layered OpenRaster file.")],
    png: Annotated[Path, typer.Option(help="Flat PNG to write.")],
) -> None:
    """Composite a layered file as every reader should."""
    from wardrobe.cli.stack import flatten_file

    flatten_file(layered, png)


@app.command(epilog="Example: wardrobe check figure.ora --json findings.json")
def check(
    layered: Annotated[Path, typer.Argument(help="Layered OpenRaster file.")],
    json: Annotated[Path | None, typer.Option(help="Findings to write as JSON.")] = None,
    repaired: Annotated[Path | None, typer.Option(help="New file to write, with all that can be "
                                                  "repaired safely.")] = None,
) -> None:
    """Say what is not in order in a layered file: names, clipping, flats, light, leftovers."""
    from wardrobe.cli.stack import check_file

    check_file(layered, json, repaired)


@app.command(epilog="Example: wardrobe judge --recipe figure.json --line figure.svg --json "
                    "findings.json")
def judge(
    recipe: Annotated[Path, typer.Option(help="Recipe as JSON.")],
    line: Annotated[Path | None, typer.Option(help="The drawing; without it a file of the "
                                              "recipe's name that is a picture.")] = None,
    report: Annotated[Path | None, typer.Option("--json", help="Findings to write.")] = None,
    look: Annotated[str | None, typer.Option(help="Name of the look that is judged.")] = None,
) -> None:
    """Say what does not read in a piece, where, and what would mend it."""
    from wardrobe.cli.judge import judge_file
    from wardrobe.cli.looks import drawing_of

    judge_file(recipe, line or drawing_of(recipe), report, look)


@app.command(epilog="Example: wardrobe looks --recipe figure.json --line figure.svg --sheet "
                    "looks.pdf")
def looks(
    recipe: Annotated[Path, typer.Option(help="Recipe as JSON, with its looks.")],
    sheet: Annotated[Path, typer.Option(help="Contact sheet to write, .png or .pdf.")],
    line: Annotated[Path | None, typer.Option(help="The drawing; without it a file of the "
                                              "recipe's name that is a picture.")] = None,
    approval: Annotated[bool, typer.Option(help="With boxes to tick and room for notes.")] = False,
) -> None:
    """Draw a piece's looks on a sheet, with their names and colours."""
    from wardrobe.cli.looks import drawing_of, write_looks

    write_looks(recipe, line or drawing_of(recipe), sheet, approval)


@app.command(epilog="Example: wardrobe archive 3 kite-runner.zip --data-dir ~/pieces")
def archive(
    piece: Annotated[str, typer.Argument(help="Number of the piece, or its title.")],
    out: Annotated[Path, typer.Argument(help="Archive to write: recipe, history, pictures, "
                                        "renders.")],
    data_dir: DataDir = None,
) -> None:
    """Write a piece as one archive, to keep or to move to another machine."""
    from wardrobe.cli.archive import archive_piece

    archive_piece(_settings(8610, data_dir), piece, out)


@app.command(epilog="Example: wardrobe restore kite-runner.zip --data-dir ~/pieces")
def restore(
    file: Annotated[Path, typer.Argument(help="Archive of a piece.")],
    data_dir: DataDir = None,
) -> None:
    """Bring a piece back from its archive, as a new piece."""
    from wardrobe.cli.archive import restore_piece

    restore_piece(_settings(8610, data_dir), file)


def _settings(port: int, data_dir: Path | None) -> "Settings":
    from wardrobe.server.settings import Settings

    settings = Settings(port=port)
    return settings.model_copy(update={"data_dir": data_dir}) if data_dir else settings


def run(call: Callable[[], None] = app) -> None:
    """Entry point: errors that have a message become one line and exit code 2."""
    try:
        call()
    except WardrobeError as error:
        sys.stderr.write(f"wardrobe: {error.message}\n")
        sys.exit(2)
    except BrokenPipeError:
        os._exit(0)
    except OSError as error:
        sys.stderr.write(f"wardrobe: {error.strerror or error}"
                         f"{f': {error.filename}' if error.filename else ''}\n")
        sys.exit(2)


if __name__ == "__main__":
    run()
