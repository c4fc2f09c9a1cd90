"""A page for print as PDF, after PDF/X-4 (ISO 15930-7)."""

import datetime as dt
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from pathlib import Path

import numpy as np
import pikepdf
from isal import isal_zlib
from numpy.typing import NDArray

from wardrobe.core.formats.profile import srgb_profile
from wardrobe.core.paper.layout import Paper, crop_marks
from wardrobe.core.paper.sizes import MM_PER_INCH
from wardrobe.core.press.profile import Profile

Byte = NDArray[np.uint8]
Points = NDArray[np.float64]

_POINT = 72 / MM_PER_INCH  # points a mm
_EPOCH = "D:20240101000000Z"  # equal pages give equal bytes
_LEVEL = 3
_HAIR = 0.001  # points by which the image is smaller: some readers round its edges outwards


@dataclass(frozen=True)
class Bands:
    """Pixels from the top, a few rows at a time, and the size of them all; three components are
    sRGB, four are inks."""

    rows: Iterable[Byte]
    width: int
    height: int
    components: int


def write_print_pdf(path: Path, bands: Bands, paper: Paper, title: str,
                    profile: Profile | None, cut: Sequence[Points] = ()) -> None:
    """Write a sheet without marks as one page, and the marks as lines on it.

    Parameters
    ----------
    path : Path
    bands : Bands
        Of the sheet within its bleed.
    paper : Paper
    title : str
    profile : Profile or None
        Of the press that the inks are for: the output intent. Without it the page is sRGB, and
        no PDF/X.
    cut : sequence of ndarray of float64, shape (n, 4, 2)
        Lines to cut along, cubic curves in mm from the trimmed corner: strokes in a colour of
        their own, over what is printed.

    References
    ----------
    ISO 32000-1, 14.11.2 (boxes) and 14.11.5 (output intents); ISO 15930-7 (PDF/X-4): the title,
    ``Trapped``, the version in XMP, and boxes that lie within each other.
    """
    width, height = ((edge + 2 * paper.slug) * _POINT for edge in (paper.width, paper.height))

    def box(away: float) -> pikepdf.Array:
        """A box that is so many mm within the whole sheet."""
        edge = away * _POINT
        return pikepdf.Array([_round(edge), _round(edge), _round(width - edge),
                              _round(height - edge)])

    with pikepdf.new() as pdf:
        page = pdf.add_blank_page(page_size=(_round(width), _round(height)))
        page.obj.MediaBox = box(0)
        page.obj.BleedBox = box(paper.slug - paper.bleed)
        page.obj.TrimBox = box(paper.slug)
        page.Resources = pikepdf.Dictionary(
            XObject=pikepdf.Dictionary(Sheet=_image(pdf, bands, profile)),
            ColorSpace=pikepdf.Dictionary(All=_spot("/All", bands.components, [1] * 4, [0] * 3),
                                          Cut=_spot("/Cut line", bands.components,
                                                    [0, 1, 0, 0], [1, 0, 1])),
            ExtGState=pikepdf.Dictionary(Over=pikepdf.Dictionary(OP=True, op=True, OPM=1)))
        inner = (paper.slug - paper.bleed) * _POINT + _HAIR
        page.Contents = pdf.make_stream("\n".join([
            f"q {width - 2 * inner:.4f} 0 0 {height - 2 * inner:.4f} {inner:.4f} {inner:.4f} cm "
            "/Sheet Do Q", *_marks(paper, height), *_cut(cut, paper, height)]).encode())
        pdf.docinfo = pdf.make_indirect(pikepdf.Dictionary(
            Title=title, Creator="Wardrobe", Producer="Wardrobe", Trapped=pikepdf.Name("/False"),
            CreationDate=_EPOCH, ModDate=_EPOCH))
        if profile is not None:
            _intend(pdf, profile)
        with pdf.open_metadata(set_pikepdf_as_editor=False) as meta:
            when = dt.datetime(2024, 1, 1, tzinfo=dt.UTC).isoformat()
            meta["dc:title"], meta["xmp:CreatorTool"] = title, "Wardrobe"
            meta["xmp:CreateDate"] = meta["xmp:ModifyDate"] = meta["xmp:MetadataDate"] = when
            meta["pdf:Producer"], meta["pdf:Trapped"] = "Wardrobe", "False"
            if profile is not None:
                meta["pdfxid:GTS_PDFXVersion"] = "PDF/X-4"
        pdf.save(path, deterministic_id=True, min_version="1.6",
                 object_stream_mode=pikepdf.ObjectStreamMode.disable)


def _image(pdf: pikepdf.Pdf, bands: Bands, profile: Profile | None) -> pikepdf.Stream:
    packer, packed = isal_zlib.compressobj(_LEVEL), []
    for rows in bands.rows:
        packed.append(packer.compress(_predicted(rows)))
    packed.append(packer.flush())
    space: pikepdf.Object = pikepdf.Name.DeviceCMYK
    if bands.components == 3:
        space = pikepdf.Array([pikepdf.Name.ICCBased, pdf.make_stream(
            srgb_profile(), N=3, Alternate=pikepdf.Name.DeviceRGB)])
    image = pikepdf.Stream(pdf, b"".join(packed))
    image.Type, image.Subtype = pikepdf.Name.XObject, pikepdf.Name.Image
    image.Width, image.Height, image.BitsPerComponent = bands.width, bands.height, 8
    image.ColorSpace, image.Filter = space, pikepdf.Name.FlateDecode
    image.DecodeParms = pikepdf.Dictionary(Predictor=15, Colors=bands.components,
                                           BitsPerComponent=8, Columns=bands.width)
    return image


def _predicted(rows: Byte) -> bytes:
    """Rows as differences from the pixel to the left (PNG, ISO/IEC 15948, filter 1)."""
    flat = rows.reshape(len(rows), -1)
    step = rows.shape[2]
    out = np.empty((len(rows), flat.shape[1] + 1), np.uint8)
    out[:, 0] = 1
    out[:, 1:step + 1] = flat[:, :step]
    out[:, step + 1:] = flat[:, step:] - flat[:, :-step]
    return out.tobytes()


def _spot(name: str, components: int, inks: list[int], light: list[int]) -> pikepdf.Array:
    """A colour by its name, and what it looks like where there is no such ink; ``/All`` is printed
    with every ink."""
    base = pikepdf.Name.DeviceCMYK if components == 4 else pikepdf.Name.DeviceRGB
    full, none = (inks, [0] * 4) if components == 4 else (light, [1] * 3)
    return pikepdf.Array([pikepdf.Name.Separation, pikepdf.Name(name), base, pikepdf.Dictionary(
        FunctionType=2, Domain=[0, 1], C0=none, C1=full, N=1)])


def _cut(cut: Sequence[Points], paper: Paper, height: float) -> list[str]:
    """Lines to cut along."""
    def at(point: Points) -> str:
        x, y = (point + paper.slug) * _POINT
        return f"{x:.4f} {height - y:.4f}"

    lines = [" ".join([f"{at(curves[0, 0])} m",
                       *(f"{at(c[1])} {at(c[2])} {at(c[3])} c" for c in curves), "s"])
             for curves in cut]
    return ["q /Over gs 0.25 w /Cut CS 1 SCN", *lines, "Q"] if lines else []


def _marks(paper: Paper, height: float) -> list[str]:
    lines = [f"{x0 * _POINT:.4f} {height - y0 * _POINT:.4f} m {x1 * _POINT:.4f} "
             f"{height - y1 * _POINT:.4f} l S" for x0, y0, x1, y1 in crop_marks(paper)]
    return ["q 0.25 w /All CS 1 SCN", *lines, "Q"] if lines else []


def _intend(pdf: pikepdf.Pdf, profile: Profile) -> None:
    pdf.Root.OutputIntents = pikepdf.Array([pdf.make_indirect(pikepdf.Dictionary(
        Type=pikepdf.Name.OutputIntent, S=pikepdf.Name.GTS_PDFX,
        OutputConditionIdentifier="Custom", OutputCondition=profile.name, Info=profile.name,
        DestOutputProfile=pdf.make_stream(profile.data, N=4)))])


def _round(points: float) -> float:
    return round(points, 4)
