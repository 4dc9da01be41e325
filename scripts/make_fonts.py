"""Make the bundled fonts from the Inter family: Latin, Greek and symbols, tabular digits as the default.

Usage: make_fonts.py FOLDER_WITH_INTER_OTF; without a folder only the widths of letters and the fonts for PDF
documents are written anew.

Inter's digits are proportional until a program asks for its tabular ones. Neither the window nor the figures can
ask for them everywhere, so the tabular digits are written into the character map. The result bears a name of its own.
"""

from __future__ import annotations

import json
import sys
from pathlib import Path

from fontTools import subset
from fontTools.pens.cu2quPen import Cu2QuPen
from fontTools.pens.ttGlyphPen import TTGlyphPen
from fontTools.ttLib import TTFont, newTable

PRINTED = ("Regular", "Italic", "SemiBold")
"""Styles that PDF documents have within."""
STYLES = {"Regular": 400, "Italic": 400, "Medium": 500, "SemiBold": 600}
FAMILY = "Slope Sans"
RANGES = [(0x20, 0x17F), (0x2B0, 0x2FF), (0x370, 0x3FF), (0x2007, 0x2008), (0x2010, 0x203A), (0x2070, 0x209F)]
SYMBOLS = "€℃№™←↑→↓↔↕↖↗↘↙⇄⇆⇧⌘⌫−×÷±≈≠≤≥∞√∑∂∆·•…′″✓✕▲△▶▷▼▽◀◁●○◆◇■□⌕↶↷↺↻"
HERE = Path(__file__).resolve().parent.parent / "src" / "yellow_slope" / "fonts"


def tabular_digits(font: TTFont) -> dict[str, str]:
    """Glyph of each proportional digit -> glyph of its tabular form, as the font's own feature tells."""
    table = font["GSUB"].table
    for record in table.FeatureList.FeatureRecord:
        if record.FeatureTag != "tnum":
            continue
        for index in record.Feature.LookupListIndex:
            for part in table.LookupList.Lookup[index].SubTable:
                mapping = dict(getattr(part, "ExtSubTable", part).mapping)
                if "uni0030" in mapping or "zero" in mapping:
                    return mapping
    raise SystemExit("the font has no tabular digits")


def quadratic(style: str) -> Path:
    """The style once more with outlines of quadratic curves, for PDF documents; its path."""
    source = HERE / f"SlopeSans-{style}.otf"
    font = TTFont(source, recalcTimestamp=False)
    glyphs, order = font.getGlyphSet(), font.getGlyphOrder()
    made = {}
    for name in order:
        pen = TTGlyphPen(glyphs)
        glyphs[name].draw(Cu2QuPen(pen, 1.0, reverse_direction=True))
        made[name] = pen.glyph()
    font["loca"] = newTable("loca")
    outlines = font["glyf"] = newTable("glyf")
    outlines.glyphOrder, outlines.glyphs = order, made
    for table in ("CFF ", "VORG"):
        if table in font:
            del font[table]
    outlines.compile(font)
    sizes = font["maxp"]
    sizes.tableVersion, sizes.maxZones, sizes.maxComponentElements = 0x00010000, 1, 0
    for name in ("TwilightPoints", "Storage", "FunctionDefs", "InstructionDefs", "StackElements", "SizeOfInstructions"):
        setattr(sizes, f"max{name}", 0)
    sizes.compile(font)
    font["post"].formatType = 3.0
    font.sfntVersion = "\000\001\000\000"
    target = source.with_suffix(".ttf")
    font.save(target)
    return target


def make(source: Path, style: str) -> Path:
    """Write one style to the package's font folder and return its path."""
    font = TTFont(source)
    tabular = tabular_digits(font)
    for table in font["cmap"].tables:
        for code in range(ord("0"), ord("9") + 1):
            if code in table.cmap:
                table.cmap[code] = tabular.get(table.cmap[code], table.cmap[code])
    options = subset.Options()
    options.layout_features = ["kern", "ccmp", "mark", "mkmk"]
    options.name_IDs = ["*"]
    options.notdef_outline = True
    keep = {code for low, high in RANGES for code in range(low, high + 1)} | {ord(c) for c in SYMBOLS}
    cutter = subset.Subsetter(options)
    cutter.populate(unicodes=keep)
    cutter.subset(font)
    bold = style == "SemiBold"
    family = FAMILY if style != "Medium" else f"{FAMILY} Medium"
    shown = {"Regular": "Regular", "Italic": "Italic", "Medium": "Regular", "SemiBold": "Bold"}[style]
    names = font["name"]
    for record in list(names.names):
        if record.nameID in (16, 17, 21, 22, 25):
            names.removeNames(nameID=record.nameID)
    postscript = f"{family.replace(' ', '')}-{shown}"
    for number, text in {1: family, 2: shown, 3: f"{postscript};1", 4: f"{family} {shown}", 6: postscript}.items():
        names.setName(text, number, 3, 1, 0x409)
        names.setName(text, number, 1, 0, 0)
    font["OS/2"].usWeightClass = 700 if bold else STYLES[style]
    font["OS/2"].fsSelection = {"Regular": 0x40, "Italic": 0x01, "Medium": 0x40, "SemiBold": 0x20}[style]
    font["head"].macStyle = {"Italic": 2, "SemiBold": 1}.get(style, 0)
    if "CFF " in font:
        top = font["CFF "].cff
        top.fontNames = [postscript]
        top.topDictIndex[0].FamilyName = family
        top.topDictIndex[0].FullName = f"{family} {shown}"
    target = HERE / f"SlopeSans-{style}.otf"
    font.save(target)
    return target


def write_widths() -> None:
    """The width of every letter of every style, in thousandths of the size: by them plots are laid out."""
    found: dict[str, dict[str, int]] = {}
    for style in STYLES:
        font = TTFont(HERE / f"SlopeSans-{style}.otf")
        per, advances = font["head"].unitsPerEm, font["hmtx"]
        found[style] = {chr(code): round(1000 * advances[name][0] / per) for code, name in font.getBestCmap().items()}
    (HERE / "widths.json").write_text(json.dumps(found, ensure_ascii=False, indent=0) + "\n", encoding="utf-8")


if __name__ == "__main__":
    for name in STYLES if len(sys.argv) > 1 else ():
        path = make(Path(sys.argv[1]) / f"Inter-{name}.otf", name)
        print(f"{path.name}: {path.stat().st_size:,} bytes")
    write_widths()
    for name in PRINTED:
        quadratic(name)
