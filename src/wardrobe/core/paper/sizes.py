"""Sizes of paper."""

MM_PER_INCH = 25.4

# Width and height in mm, upright. The A series: ISO 216:2007, table 1; the others are sizes of
# prints and drawing paper in inches (common practice, no published source).
SIZES: dict[str, tuple[float, float]] = {
    "A6": (105, 148), "A5": (148, 210), "A4": (210, 297), "A3": (297, 420), "A2": (420, 594),
    "A1": (594, 841), "A0": (841, 1189),
    "8 × 10 in": (203.2, 254.0), "11 × 14 in": (279.4, 355.6), "18 × 24 in": (457.2, 609.6),
}
