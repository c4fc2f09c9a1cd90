"""Sheets for print and layered files of the full figure; writes docs/benchmarks-paper.md.

    python -m benchmarks.paper
"""

import io
import json
import resource
import subprocess
import sys
import tempfile
import time
from pathlib import Path

import cv2
import numpy as np
from PIL import Image, ImageCms
from tests.chromium import svg_shown

from benchmarks.layers import runner_piece
from wardrobe.core.formats.images import decode_image
from wardrobe.core.formats.layered_pdf import write_layered_pdf
from wardrobe.core.formats.layered_svg import Curves, write_layered_svg
from wardrobe.core.formats.openraster import write_openraster
from wardrobe.core.paper.layout import Paper, lie
from wardrobe.core.paper.sheet import lay_out
from wardrobe.core.press.inks import Press, to_inks
from wardrobe.core.press.pdf import Bands, write_print_pdf
from wardrobe.core.press.profile import coated
from wardrobe.core.stack.flatten import flatten, on_white
from wardrobe.demo.pieces import RUNNER

SHEETS = {"A4": (210.0, 297.0), "A3": (297.0, 420.0), "100 x 70 cm": (1000.0, 700.0)}
DPI = 300
WIDTH, HEIGHT = 2480, 3508


def picture() -> np.ndarray:
    """Flat colours with edges, as large as a usual piece."""
    rng = np.random.default_rng(1)
    out = np.full((HEIGHT, WIDTH, 3), (240, 230, 210), np.uint8)
    for _ in range(60):
        centre = (int(rng.integers(0, WIDTH)), int(rng.integers(0, HEIGHT)))
        axes = (int(rng.integers(40, 500)), int(rng.integers(40, 500)))
        colour = [int(v) for v in rng.integers(0, 256, 3)]
        cv2.ellipse(out, centre, axes, float(rng.uniform(0, 180)), 0, 360, colour, -1, cv2.LINE_AA)
    return out


def ours(name: str, path: Path) -> None:
    """The sheet in inks as PDF, band by band."""
    paper = Paper(*SHEETS[name], 10)
    press = Press(coated())
    sheet = lay_out(picture(), paper, lie(paper, (WIDTH, HEIGHT)), DPI, (255,) * 3)
    write_print_pdf(path, Bands((to_inks(b, press) for b in sheet.bands()), sheet.width,
                                sheet.height, 4), paper, "Bench", press.profile)


def pillow(name: str, path: Path) -> None:
    """The same by Pillow: the whole sheet, the whole sheet in inks, written as PDF."""
    paper = Paper(*SHEETS[name], 10)
    x, y, w, h = (v / 25.4 * DPI for v in lie(paper, (WIDTH, HEIGHT)).picture)
    page = Image.new("RGB", paper.pixels(DPI), "white")
    page.paste(Image.fromarray(picture()).resize((round(w), round(h)), Image.Resampling.HAMMING),
               (round(x), round(y)))
    inks = ImageCms.profileToProfile(
        page, ImageCms.createProfile("sRGB"), io.BytesIO(coated().data),
        ImageCms.Intent.RELATIVE_COLORIMETRIC, "CMYK",
        flags=ImageCms.Flags.BLACKPOINTCOMPENSATION)
    assert inks is not None
    inks.save(path, "TIFF", compression="tiff_adobe_deflate", dpi=(DPI, DPI))


def alone(way: str, name: str) -> tuple[float, float, float]:
    """Seconds, peak MB and MB of the file, in a process of its own."""
    code = (f"import benchmarks.paper as b, json; print(json.dumps(b.once({way!r}, {name!r})))")
    done = subprocess.run([sys.executable, "-c", code], check=True, capture_output=True, text=True)
    seconds, peak, size = json.loads(done.stdout)
    return seconds, peak, size


def once(way: str, name: str) -> tuple[float, float, float]:
    """What :func:`alone` runs."""
    picture()
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "out"
        began = time.perf_counter()
        (ours if way == "ours" else pillow)(name, path)
        seconds = time.perf_counter() - began
        size = path.stat().st_size / 1e6
    return seconds, resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1e3, size


def sheets() -> list[str]:
    """Lines of the report on sheets."""
    lines = ["| sheet at 300 dpi | px | seconds | Pillow | ratio | peak MB | Pillow | MB |",
             "|---|---|---|---|---|---|---|---|"]
    for name, size in SHEETS.items():
        own, other = alone("ours", name), alone("pillow", name)
        width, height = Paper(*size).pixels(DPI)
        lines.append(f"| {name} | {width} x {height} | {own[0]:.1f} | {other[0]:.1f} | "
                     f"{own[0] / other[0]:.2f} | {own[1]:.0f} | {other[1]:.0f} | {own[2]:.1f} |")
    return lines


def layered() -> list[str]:
    """Lines of the report on layered files of the full figure."""
    deriver, recipe = runner_piece(decode_image(RUNNER.draw()))
    stack = deriver.stack(recipe)
    wanted = on_white(flatten(stack)).astype(int)
    ink = {layer.name for layer in stack.layers() if layer.name.startswith("lines")}
    lines = ["| file | seconds | of OpenRaster's | MB | shown by | within 3/255 | most |",
             "|---|---|---|---|---|---|---|"]
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder)
        began = time.perf_counter()
        write_openraster(path / "a.ora", stack, wanted.astype(np.uint8))
        plain = time.perf_counter() - began
        for label, how in (("SVG, lines as they are", Curves(exact=ink)),
                           ("SVG, lines as curves", Curves())):
            began = time.perf_counter()
            write_layered_svg(path / "a.svg", stack, "Bench", DPI, how)
            seconds = time.perf_counter() - began
            seen = svg_shown(path / "a.svg", stack.width, stack.height)
            lines.append(_line(label, seconds, plain, path / "a.svg", "Chromium", seen, wanted))
        began = time.perf_counter()
        write_layered_pdf(path / "a.pdf", stack, "Bench", DPI)
        seconds = time.perf_counter() - began
        subprocess.run(["pdftoppm", "-r", str(DPI), "-png", "-singlefile", path / "a.pdf",
                        path / "a"], check=True)
        seen = cv2.imread(str(path / "a.png"))[..., ::-1].astype(int)
        lines.append(_line("PDF", seconds, plain, path / "a.pdf", "poppler",
                           seen[:stack.height, :stack.width], wanted))
    return lines


def _line(label: str, seconds: float, plain: float, path: Path, by: str, seen: np.ndarray,
          wanted: np.ndarray) -> str:
    off = np.abs(seen - wanted).max(axis=2)
    return (f"| {label} | {seconds:.2f} | {seconds / plain:.1f} | {path.stat().st_size / 1e6:.2f} "
            f"| {by} | {(off <= 3).mean():.2%} | {off.max()} |")


def main() -> None:
    text = ["# Speed and size of sheets and layered files", "",
            "Written by `python -m benchmarks.paper`. A sheet is laid out and written in inks "
            "from a picture of 2480 x 3508 px, here as PDF band by band, by Pillow as TIFF at "
            "once; peaks are those of a process of its own.", "", *sheets(), "",
            "The full demo figure at its own size, beside writing it as OpenRaster in the same "
            "run.", "", *layered(), ""]
    Path("docs/benchmarks-paper.md").write_text("\n".join(text))
    print("\n".join(text))


if __name__ == "__main__":
    main()
