"""Styles of OpenDocument (part 3, 16): what paragraphs and stretches of text look like, each taking over from its parent."""

from __future__ import annotations

from collections.abc import Iterator
from typing import NamedTuple

from msgspec.structs import replace

from evenquill.core.file_styles import UsedStyles, kind_of_rows
from evenquill.core.font_names import family_called
from evenquill.core.model import Align, Family, Marks, ResolvedStyle, Role, TabStop
from evenquill.core.model.inline import AS_STYLED, Lettering
from evenquill.core.model.sides import ABOVE_AND_BELOW, SIDE_NAMES, Sides
from evenquill.core.model.styles import BODY
from evenquill.core.odt_reading.names import FO, OFFICE, STYLE, SVG, TEXT, Element, color, points, share, whole

_ALIGN = {
    "start": Align.LEFT, "left": Align.LEFT, "end": Align.RIGHT, "right": Align.RIGHT, "center": Align.CENTER, "justify": Align.JUSTIFY,
}  # fmt: skip
_STOPS = {"right": Align.RIGHT, "char": Align.DECIMAL, "center": Align.CENTER}
_FAMILIES = {"roman": Family.SERIF, "swiss": Family.SANS, "modern": Family.MONO}
_BOLD = frozenset(("bold", "600", "700", "800", "900"))

USUAL_SIZE = 12.0
"""Points of text of which nothing is said."""

PROPORTIONAL = 1.15
"""Ems of a line that is set single, as lines given in percent count from."""


class ParagraphLook(NamedTuple):
    """How a paragraph looks and what it is: its named style and that with what it has of its own, tab stops; whether it begins a page,
    and on which sort of page, with which number; its sides that have a line."""

    named: ResolvedStyle
    own: ResolvedStyle
    role: Role
    level: int
    tabs: tuple[TabStop, ...]
    begins_page: bool
    master: str
    number: int | None
    list_style: str
    sides: Sides


class TextLook(NamedTuple):
    """How a stretch of text differs from its paragraph."""

    marks: Marks
    color: str | None
    lettering: Lettering
    hidden: bool


class Styles:
    """The styles of a file by family and name; ``used`` are those that rows have. ``roots`` are its parts, the nearest first."""

    def __init__(self, *roots: Element) -> None:
        self.used = UsedStyles()
        self._known: dict[tuple[str, str], Element] = {}
        self._usual: dict[str, Element] = {}
        self._automatic: set[tuple[str, str]] = set()
        self._fonts: dict[str, Element] = {}
        self._paragraphs: dict[str, ParagraphLook] = {}
        self._texts: dict[tuple[str, ResolvedStyle], TextLook] = {}
        for root in roots:
            for element in root.iter(f"{STYLE}style"):
                key = (element.get(f"{STYLE}family", ""), element.get(f"{STYLE}name", ""))
                self._known.setdefault(key, element)
                parent = element.getparent()
                if parent is not None and parent.tag == f"{OFFICE}automatic-styles":
                    self._automatic.add(key)
            for element in root.iter(f"{STYLE}default-style"):
                self._usual.setdefault(element.get(f"{STYLE}family", ""), element)
            for element in root.iter(f"{STYLE}font-face"):
                self._fonts.setdefault(element.get(f"{STYLE}name", ""), element)

    @property
    def language(self) -> str:
        """The language of text of which nothing is said, two letters."""
        said = self.value("paragraph", "", "text", f"{FO}language") or ""
        return said if len(said) == 2 and said.isalpha() else ""

    def _chain(self, family: str, name: str) -> Iterator[Element]:
        """A style and those that it takes over from, the nearest first."""
        seen: set[str] = set()
        while name and name not in seen:
            seen.add(name)
            element = self._known.get((family, name))
            if element is None:
                break
            yield element
            name = element.get(f"{STYLE}parent-style-name", "")
        if family in self._usual:
            yield self._usual[family]

    def properties(self, family: str, name: str, kind: str) -> Iterator[Element]:
        """The elements of properties of a kind (``paragraph``, ``text``, ``table-cell`` ...) of a style, the nearest first."""
        for element in self._chain(family, name):
            yield from element.iterfind(f"{STYLE}{kind}-properties")

    def value(self, family: str, name: str, kind: str, attribute: str) -> str | None:
        """What a style of a family says of an attribute, by itself or by what it takes over from; None for nothing."""
        return next(
            (found for one in self.properties(family, name, kind) if (found := one.get(attribute)) is not None), None
        )

    def paragraph(self, name: str) -> ParagraphLook:
        """The look of paragraphs of a style."""
        known = self._paragraphs.get(name)
        if known is None:
            known = self._paragraphs[name] = self._paragraph(name)
        return known

    def _paragraph(self, name: str) -> ParagraphLook:
        element = self._known.get(("paragraph", name))
        named = name
        while ("paragraph", named) in self._automatic:
            named = self._known["paragraph", named].get(f"{STYLE}parent-style-name", "")
        base = self._named(named)
        own = self._resolved(name, base.id, base.name) if name != named else base
        kind = kind_of_rows(base)

        def said(attribute: str) -> str | None:
            return self.value("paragraph", name, "paragraph", attribute)

        stops = next(
            (
                one
                for one in self.properties("paragraph", name, "paragraph")
                if one.find(f"{STYLE}tab-stops") is not None
            ),
            None,
        )
        return ParagraphLook(
            base,
            own,
            kind.role,
            kind.level,
            _stops(stops),
            said(f"{FO}break-before") == "page",
            element.get(f"{STYLE}master-page-name", "") if element is not None else "",
            whole(found, 1) if (found := said(f"{STYLE}page-number")) not in (None, "auto") else None,
            next(
                (found for one in self._chain("paragraph", name) if (found := one.get(f"{STYLE}list-style-name"))), ""
            ),
            self.sides("paragraph", name, "paragraph") & ABOVE_AND_BELOW,
        )

    def _named(self, name: str) -> ResolvedStyle:
        """The look of a style that has a name of its own."""
        element = self._known.get(("paragraph", name))
        if element is None:
            return self._resolved("", BODY.id, BODY.name)
        called = element.get(f"{STYLE}display-name") or name.replace("_20_", " ")
        called = BODY.name if called in ("Standard", "Text body") else called
        style = self._resolved(name, called, called)
        return replace(style, outline=whole(element.get(f"{STYLE}default-outline-level")))

    def _resolved(self, name: str, id: str, called: str) -> ResolvedStyle:
        def of_text(attribute: str) -> str | None:
            return self.value("paragraph", name, "text", attribute)

        def length(attribute: str) -> float:
            return points(self.value("paragraph", name, "paragraph", attribute)) or 0.0

        size = self._size(name)
        font, family = self._font(of_text(f"{STYLE}font-name"), of_text(f"{FO}font-family"))
        return ResolvedStyle(
            id,
            called,
            font=font,
            family=family,
            size=size,
            bold=(of_text(f"{FO}font-weight") or "") in _BOLD,
            italic=of_text(f"{FO}font-style") in ("italic", "oblique"),
            color=_ink(of_text(f"{FO}color")),
            align=_ALIGN.get(self.value("paragraph", name, "paragraph", f"{FO}text-align") or "", Align.LEFT),
            left=length(f"{FO}margin-left"),
            right=length(f"{FO}margin-right"),
            first=length(f"{FO}text-indent"),
            before=length(f"{FO}margin-top"),
            after=length(f"{FO}margin-bottom"),
            leading=self._leading(name, size),
            keep_next=self.value("paragraph", name, "paragraph", f"{FO}keep-with-next") == "always",
        )

    def sides(self, family: str, name: str, kind: str) -> Sides:
        """The sides that have a line in what has a style of a family (20.183 and following)."""
        drawn = Sides.NONE
        for side, where in SIDE_NAMES.items():
            for properties in self.properties(family, name, kind):
                said = properties.get(f"{FO}border-{where}") or properties.get(f"{FO}border")
                if said is not None:
                    drawn |= Sides.NONE if said.startswith(("none", "hidden", "0")) and "solid" not in said else side
                    break
        return drawn

    def _size(self, name: str) -> float:
        """Points; a share counts of what the style takes over from."""
        scale = 1.0
        for one in self.properties("paragraph", name, "text"):
            said = one.get(f"{FO}font-size")
            if (length := points(said)) is not None:
                return round(scale * length, 2)
            scale *= share(said) or 1.0
        return round(scale * USUAL_SIZE, 2)

    def _leading(self, name: str, size: float) -> float:
        for one in self.properties("paragraph", name, "paragraph"):
            said = one.get(f"{FO}line-height")
            if said == "normal":
                return 0.0
            if said is not None:
                part = share(said)
                if part is not None:
                    return round(part * PROPORTIONAL * size, 2) if abs(part - 1.0) > 0.01 else 0.0
                return points(said) or 0.0
            least = points(one.get(f"{STYLE}line-height-at-least"))
            if least:
                return least
        return 0.0

    def _font(self, face: str | None, family: str | None) -> tuple[str, Family]:
        """The name of a typeface and its kind; the first of several that may stand for one another."""
        declared = self._fonts.get(face or "")
        listed = (declared.get(f"{SVG}font-family") if declared is not None else None) or family or face or ""
        name = listed.split(",")[0].strip().strip("'\"")
        generic = declared.get(f"{STYLE}font-family-generic", "") if declared is not None else ""
        return name, _FAMILIES.get(generic, family_called(name))

    def text(self, name: str, style: ResolvedStyle) -> TextLook:
        """The look of a stretch of text of a style, in a paragraph of a style."""
        known = self._texts.get((name, style))
        if known is None:
            known = self._texts[name, style] = self._text(name, style)
        return known

    def _text(self, name: str, style: ResolvedStyle) -> TextLook:

        def said(attribute: str) -> str | None:
            for element in self._chain_without_usual("text", name):
                for one in element.iterfind(f"{STYLE}text-properties"):
                    if (found := one.get(attribute)) is not None:
                        return found
            return None

        marks = Marks.NONE
        weight, slant = said(f"{FO}font-weight"), said(f"{FO}font-style")
        if weight is not None and (weight in _BOLD) != style.bold:
            marks |= Marks.BOLD
        if slant is not None and (slant in ("italic", "oblique")) != style.italic:
            marks |= Marks.ITALIC
        if (said(f"{STYLE}text-underline-style") or "none") != "none":
            marks |= Marks.UNDERLINE
        if (said(f"{STYLE}text-line-through-style") or "none") != "none" or (
            said(f"{STYLE}text-line-through-type") or "none"
        ) != "none":
            marks |= Marks.STRIKE
        if said(f"{FO}font-variant") == "small-caps":
            marks |= Marks.SMALL_CAPITALS
        place = (said(f"{STYLE}text-position") or "").split()
        if place:
            raised = share(place[0]) or 0.0
            lowered = place[0] == "sub" or place[0].startswith("-")
            marks |= Marks.SUB if lowered else Marks.SUPER if place[0] == "super" or raised > 0 else Marks.NONE
        ink = _ink(said(f"{FO}color"))
        return TextLook(
            marks,
            ink if ink != style.color else None,
            self._lettering(
                said(f"{FO}font-size"),
                said(f"{STYLE}font-name"),
                said(f"{FO}font-family"),
                said(f"{FO}background-color"),
                style,
            ),
            said(f"{TEXT}display") == "none",
        )

    def _lettering(
        self, size: str | None, face: str | None, family: str | None, ground: str | None, style: ResolvedStyle
    ) -> Lettering:
        part = share(size)
        length = points(size) or (round(part * style.size, 2) if part else 0.0)
        font = self._font(face, family)[0] if face or family else ""
        behind = color(ground)
        lettering = Lettering(
            font if font != style.font else "",
            length if length != style.size else 0.0,
            "" if behind == "ffffff" else behind,
        )
        return AS_STYLED if lettering == AS_STYLED else lettering

    def _chain_without_usual(self, family: str, name: str) -> Iterator[Element]:
        usual = self._usual.get(family)
        return (one for one in self._chain(family, name) if one is not usual)


def _ink(said: str | None) -> str | None:
    """The colour of letters, None for black."""
    found = color(said)
    return found if found and found != "000000" else None


def _stops(properties: Element | None) -> tuple[TabStop, ...]:
    stops = properties.iterfind(f"{STYLE}tab-stops/{STYLE}tab-stop") if properties is not None else ()
    found = [
        TabStop(
            points(stop.get(f"{STYLE}position")) or 0.0,
            _STOPS.get(stop.get(f"{STYLE}type", ""), Align.LEFT),
            stop.get(f"{STYLE}leader-style", "none") != "none" or stop.get(f"{STYLE}leader-text", " ").strip() != "",
        )
        for stop in stops
    ]
    return tuple(sorted(found, key=lambda stop: stop.at))
