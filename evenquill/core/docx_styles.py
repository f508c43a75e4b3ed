"""The styles of a DOCX file, such as a template of the office: read from its style sheet, whatever else is in the file."""

from __future__ import annotations

import io
import zipfile

import msgspec
from lxml import etree

from evenquill.core.errors import EditError
from evenquill.core.font_names import family_called
from evenquill.core.model import Align, ResolvedStyle

MOST_BYTES = 20_000_000
"""Of a part of the file, unpacked."""

NAMES = {
    "normal": "Body text",
    "body text": "Body text",
    "list paragraph": "List item",
    "list bullet": "List item",
    "quote": "Quotation",
    "footnote text": "Footnote text",
    "endnote text": "Endnote text",
    "caption": "Caption",
    "header": "Running head",
}
"""What styles of DOCX, by their names in its standard (ISO/IEC 29500-1, 17.7.4.9), are called here."""

_W = "{http://schemas.openxmlformats.org/wordprocessingml/2006/main}"
_A = "{http://schemas.openxmlformats.org/drawingml/2006/main}"
_ALIGN = {
    "left": Align.LEFT,
    "start": Align.LEFT,
    "right": Align.RIGHT,
    "end": Align.RIGHT,
    "center": Align.CENTER,
    "both": Align.JUSTIFY,
    "distribute": Align.JUSTIFY,
}
_USUAL_SIZE = 10.0


class TemplateStyles(msgspec.Struct, frozen=True):
    """The styles of a template, named as they are here; ``macros`` where it has some, which nobody runs."""

    styles: tuple[ResolvedStyle, ...]
    macros: bool


class StyleSheet:
    """The style sheet of a file: its paragraph styles as they look, by their ids, and its character styles."""

    def __init__(self, root: etree._Element, theme: etree._Element | None) -> None:
        listed = [(one.get(f"{_W}type"), one.get(f"{_W}styleId", ""), one) for one in root.iter(f"{_W}style")]
        self._elements = {name: one for sort, name, one in listed if sort == "paragraph"}
        self.characters = {name: one for sort, name, one in listed if sort == "character"}
        self.default = next(
            (name for name, one in self._elements.items() if one.get(f"{_W}default") in ("1", "true")), ""
        )
        self._defaults = [
            one for path in ("rPr", "pPr") for one in root.iterfind(f"{_W}docDefaults/{_W}{path}Default/{_W}{path}")
        ]
        self._fonts = _theme_fonts(theme) if theme is not None else {}
        self.looks = {name: _look(name, self) for name in self._elements}

    def chain(self, name: str) -> list[etree._Element]:
        """A style and those that it is based on, one after the other."""
        found: list[etree._Element] = []
        at = self._elements.get(name)
        while at is not None and at not in found:
            found.append(at)
            based = at.find(f"{_W}basedOn")
            at = self._elements.get(based.get(f"{_W}val", "")) if based is not None else None
        return found

    def sources(self, name: str) -> list[etree._Element]:
        """What says how a style looks, the nearest first."""
        parts = [
            part for one in self.chain(name) for path in ("rPr", "pPr") if (part := one.find(f"{_W}{path}")) is not None
        ]
        return [*parts, *self._defaults]

    def theme_font(self, sort: str) -> str:
        return self._fonts.get(sort, "")


def template_styles(data: bytes) -> TemplateStyles:
    """The paragraph styles of a DOCX file or template. Raises EditError for what is none, and where there are no styles in it."""
    try:
        with zipfile.ZipFile(io.BytesIO(data)) as file:
            names = set(file.namelist())
            root = _part(file, "word/styles.xml")
            theme = _part(file, "word/theme/theme1.xml") if "word/theme/theme1.xml" in names else None
    except (zipfile.BadZipFile, KeyError, etree.XMLSyntaxError, NotImplementedError, RuntimeError, OSError):
        raise EditError("This is no DOCX file with styles.") from None
    sheet = StyleSheet(root, theme)
    found: dict[str, ResolvedStyle] = {}
    for look in sheet.looks.values():
        found.setdefault(look.id, look)
    if not found:
        raise EditError("There are no styles in this file.")
    return TemplateStyles(tuple(found.values()), any(name.lower().endswith("vbaproject.bin") for name in names))


def _part(file: zipfile.ZipFile, name: str) -> etree._Element:
    if file.getinfo(name).file_size > MOST_BYTES:
        raise EditError("The file is too large for a template.")
    parser = etree.XMLParser(resolve_entities=False, no_network=True, load_dtd=False, huge_tree=False)
    return etree.fromstring(file.read(name), parser)


def _theme_fonts(root: etree._Element) -> dict[str, str]:
    out = {}
    for sort in ("minor", "major"):
        latin = root.find(f".//{_A}{sort}Font/{_A}latin")
        if latin is not None and latin.get("typeface"):
            out[sort] = latin.get("typeface", "")
    return out


def _look(style_id: str, sheet: StyleSheet) -> ResolvedStyle:
    """The whole look of a style, with what it takes over from those that it is based on."""
    style, sources = sheet.chain(style_id)[0], sheet.sources(style_id)

    def value(name: str, attribute: str = "val") -> str | None:
        for source in sources:
            element = source.find(f"{_W}{name}")
            if element is not None and (found := element.get(f"{_W}{attribute}")) is not None:
                return found
        return None

    def is_on(name: str) -> bool:
        for source in sources:
            element = source.find(f"{_W}{name}")
            if element is not None:
                return element.get(f"{_W}val", "1") not in ("0", "false", "off")
        return False

    def points(name: str, attribute: str, unit: float = 20.0) -> float:
        try:
            return round(float(value(name, attribute) or 0) / unit, 2)
        except ValueError:
            return 0.0

    name_element = style.find(f"{_W}name")
    name = name_element.get(f"{_W}val", "") if name_element is not None else ""
    level = value("outlineLvl")
    outline = int(level) + 1 if level is not None and level.isdecimal() and int(level) < 9 else 0
    called = NAMES.get(name.lower(), name) or style.get(f"{_W}styleId", "")
    called = f"Heading {outline}" if outline and name.lower().startswith("heading") else called
    size = points("sz", "val", 2.0) or _USUAL_SIZE
    theme = value("rFonts", "asciiTheme") or ""
    font = value("rFonts", "ascii") or sheet.theme_font("major" if theme.startswith("major") else "minor")
    color = value("color")
    line = points("spacing", "line")
    exact = value("spacing", "lineRule") in ("exact", "atLeast")
    leading = line if exact else round(line / 12 * size * 1.15, 2) if line and line != 12 else 0.0
    return ResolvedStyle(
        called,
        called,
        font=font,
        family=family_called(font),
        size=size,
        bold=is_on("b"),
        italic=is_on("i"),
        color=color if color and len(color) == 6 and color.lower() != "000000" else None,
        align=_ALIGN.get(value("jc") or "", Align.LEFT),
        left=points("ind", "left") or points("ind", "start"),
        right=points("ind", "right") or points("ind", "end"),
        first=points("ind", "firstLine") - points("ind", "hanging"),
        before=points("spacing", "before"),
        after=points("spacing", "after"),
        leading=leading,
        outline=outline,
        keep_next=is_on("keepNext"),
    )
