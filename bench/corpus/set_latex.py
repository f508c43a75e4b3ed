"""Documents set by pdfLaTeX, in its usual classes: as the class has them, or with the look's own headings."""

from __future__ import annotations

import random
import subprocess
import tempfile
from collections.abc import Sequence
from dataclasses import replace
from pathlib import Path

from PIL import Image

from .look import MONO, Look, item_hang, item_mark
from .parts import (
    Code,
    Contents,
    Heading,
    Item,
    Made,
    Pairs,
    Paragraph,
    Part,
    Picture,
    RunIn,
    Sides,
    Space,
    Span,
    Table,
    Term,
)

BABEL = {
    "en": "english", "de": "ngerman", "fr": "french", "es": "spanish", "it": "italian", "pt": "portuguese", "nl": "dutch",
    "sv": "swedish", "da": "danish", "cs": "czech", "ca": "catalan", "ro": "romanian",
}  # fmt: skip

TYPEFACES = (
    r"\usepackage{lmodern}", r"\usepackage{lmodern}", r"\usepackage{mathptmx}", r"\usepackage{mathpazo}", r"\usepackage{bookman}",
    r"\usepackage{newcent}", r"\usepackage{charter}", r"\usepackage[scaled]{helvet}\renewcommand\familydefault{\sfdefault}",
    r"\usepackage{lmodern}\renewcommand\familydefault{\sfdefault}",
)  # fmt: skip

COMMANDS = (r"\chapter", r"\section", r"\subsection", r"\subsubsection")

SIGNS = {
    "\\": r"\textbackslash{}", "{": r"\{", "}": r"\}", "$": r"\$", "&": r"\&", "#": r"\#", "^": r"\^{}", "_": r"\_", "%": r"\%",
    "~": r"\textasciitilde{}", '"': r"\textquotedbl{}", "•": r"\textbullet{}", "◦": r"$\circ$", "▪": r"\textbullet{}",
    "■": r"\rule{0.4em}{0.4em}", "→": r"$\rightarrow$", "○": r"$\circ$", "‣": r"\textbullet{}", "−": "$-$", "\u2009": r"\,",
    "\u00a0": "~", "<": r"\textless{}", ">": r"\textgreater{}", "|": r"\textbar{}", "*": r"*{}", "[": "{[}", "]": "{]}", "-": "-",
}  # fmt: skip
"""What stands for signs that mean something in TeX, or that its typefaces have in formulas only."""


def as_class_has_it(look: Look, seed: int) -> Look:
    """The look of a document whose headings are as its class has them, which is so with most, and whose lines are justified, as they are
    where nobody says otherwise; else the look itself."""
    rng = random.Random(seed)
    if rng.random() < 0.35:
        return look
    look = replace(look, justify=look.justify or rng.random() < 0.6)
    return replace(
        look, headings=tuple(replace(head, capitals=False) for head in look.headings), first_page_plain=False
    )


def latex_pdf(made: Made, look: Look, seed: int) -> bytes:
    """The document as a PDF. Raises ValueError where it cannot be set."""
    setter = _Setter(made, look, random.Random(seed))
    with tempfile.TemporaryDirectory() as folder:
        source = Path(folder) / "made.tex"
        source.write_text(setter.document())
        for n, part in enumerate(setter.pictures):
            Image.effect_noise((part.width // 2, part.height // 2), 60).convert("RGB").save(Path(folder) / f"p{n}.png")
        for _ in range(2):  # the second time the number of pages is known
            subprocess.run(
                ["pdflatex", "-interaction=nonstopmode", "made.tex"], cwd=folder, capture_output=True, timeout=120
            )
        result = source.with_suffix(".pdf")
        if not result.exists():
            log = source.with_suffix(".log")
            raise ValueError(log.read_text("latin-1")[-300:] if log.exists() else "no log")
        return result.read_bytes()


def latex_source(made: Made, look: Look, seed: int) -> str:
    """The document as LaTeX source, without its pictures."""
    return _Setter(made, look, random.Random(seed)).document()


def _text(text: str) -> str:
    """The text as TeX has it, breaks kept."""
    lines = ["".join(SIGNS.get(c, c) for c in line) for line in text.split("\n")]
    return r"\\ ".join(lines)


class _Setter:
    def __init__(self, made: Made, look: Look, rng: random.Random) -> None:
        self.made, self.look = made, look
        self.own_headings = rng.random() < 0.35  # as in as_class_has_it
        self.rng = rng
        self.class_ = rng.choice(
            ("article", "article", "article", "report", "scrartcl", "book" if made.family == "book" else "article")
        )
        self.default_lists = rng.random() < 0.5
        self.default_margins = rng.random() < 0.5 and look.width > 500
        self.pictures: list[Picture] = []
        self.two = made.columns == 2 and rng.random() < 0.6
        self.noindent = not look.indent

    def document(self) -> str:
        made, look = self.made, self.look
        size = min((10, 11, 12), key=lambda n: abs(n - look.size))
        options = [f"{size}pt", "a4paper" if look.width != 612 else "letterpaper"]
        if self.class_ == "book":
            options.append("openany")
        top, right, bottom, left = look.margins
        page = (
            ""
            if self.default_margins
            else rf"\usepackage[paperwidth={look.width}pt,paperheight={look.height}pt,top={top:.0f}pt,right={right:.0f}pt,bottom={bottom:.0f}pt,left={left:.0f}pt]{{geometry}}"
        )
        lines = [
            rf"\documentclass[{','.join(options)}]{{{self.class_}}}",
            r"\usepackage[utf8]{inputenc}",
            r"\usepackage[T1]{fontenc}" if made.language != "en" or self.rng.random() < 0.7 else "",
            r"\usepackage{textcomp,graphicx,multicol,longtable,array,booktabs,fancyhdr,xcolor,ragged2e}",
            self.rng.choice(TYPEFACES)
            if look.text_font not in MONO
            else r"\usepackage{lmodern}\renewcommand\familydefault{\ttdefault}",
            rf"\usepackage[main={BABEL[made.language]},shorthands=off]{{babel}}",
            r"\frenchsetup{AutoSpacePunctuation=false}" if made.language == "fr" else "",
            page,
            rf"\linespread{{{look.leading / 1.2:.2f}}}" if not self.default_margins else "",
            rf"\setlength\parindent{{{look.indent}em}}\setlength\parskip{{{look.space}em plus 1pt}}"
            if self.noindent or self.rng.random() < 0.4
            else "",
            "" if look.hyphens or look.justify else r"\hyphenpenalty=10000",
            r"\renewcommand\thefootnote{\fnsymbol{footnote}}" if look.note_sign == "symbols" else "",
            "" if look.note_rule else r"\renewcommand\footnoterule{}",
            r"\newcommand\notes{\ifnum\value{footnote}>4 \setcounter{footnote}{0}\fi}"
            if look.note_sign == "symbols"
            else r"\newcommand\notes{}",
            self._page_style(),
            r"\sloppy\raggedbottom" if self.rng.random() < 0.5 else r"\emergencystretch=3em",
            r"\AtEndDocument{\label{LastPage}}",
            r"\begin{document}",
            ""
            if look.justify
            else r"\RaggedRight" + (rf"\setlength\parindent{{{look.indent}em}}" if look.indent else ""),
        ]
        title = "\n\n".join(self._flow(made.title))
        body = "\n\n".join(self._flow(made.parts))
        if self.two:
            lines += [
                rf"\twocolumn[{title}\vspace{{1em}}]"
                if title and r"\footnote" not in title
                else rf"\twocolumn {title}",
                body,
            ]
        elif made.columns > 1:
            lines += [
                title,
                rf"\setlength\columnsep{{{look.column_gap:.0f}pt}}\begin{{multicols}}{{{made.columns}}}",
                body,
                r"\end{multicols}",
            ]
        else:
            lines += [title, body]
        return "\n".join([*lines, r"\end{document}"])

    def _page_style(self) -> str:
        head, foot = self.made.head, self.made.foot
        if not any((*head, *foot)):
            return r"\pagestyle{empty}\AtBeginDocument{\let\thispagestyle\pagestyle}"
        rows = max(text.count("\n") for text in head) + 1
        rule = "0.4pt" if self.look.running_rule else "0pt"
        out = [
            r"\pagestyle{fancy}\fancyhf{}",
            rf"\renewcommand\headrulewidth{{{rule}}}",
            rf"\setlength\headheight{{{rows * 15}pt}}",
            r"\let\chaptermark\relax\let\sectionmark\relax\let\subsectionmark\relax",
        ]
        if any(foot) and self.look.running_rule:
            out.append(rf"\renewcommand\footrulewidth{{{rule}}}")
        style = r"\itshape" if self.look.running_italic else ""
        if self.look.running_size < 0.9:
            style += r"\small"
        for place, texts in (("head", head), ("foot", foot)):
            for side, text in zip(("L", "C", "R"), texts, strict=True):
                if text:
                    shown = _text(text.replace("{n}", "\0n").replace("{N}", "\0N").replace("{s}", "\0s"))
                    shown = (
                        shown.replace("\0n", r"\thepage{}")
                        .replace("\0N", r"\pageref{LastPage}")
                        .replace("\0s", r"\leftmark{}")
                    )
                    align = {"L": "l", "C": "c", "R": "r"}[side]
                    shown = (
                        rf"\begin{{tabular}}[b]{{@{{}}{align}@{{}}}}{shown}\end{{tabular}}" if "\n" in text else shown
                    )
                    out.append(rf"\fancy{place}[{side}]{{{style} {shown}}}")
        return (
            "\n".join(out)
            + r"\makeatletter\AtBeginDocument{\let\ps@plain\ps@fancy\renewcommand\thispagestyle[1]{}}\makeatother"
        )

    def _spans(self, spans: Sequence[Span]) -> str:
        out = ""
        for span in spans:
            text = _text(span.text)
            text = rf"\textbf{{{text}}}" if span.bold else text
            out += rf"\textit{{{text}}}" if span.italic else text
            if span.note:
                out += rf"\notes\footnote{{{_text(span.note)}}}"
        return out

    def _flow(self, parts: Sequence[Part]) -> list[str]:
        out: list[str] = []
        n = 0
        while n < len(parts):
            part = parts[n]
            if isinstance(part, Item):
                items: list[Item] = []
                while n < len(parts) and isinstance(own := parts[n], Item):
                    items.append(own)
                    n += 1
                out.append(self._items(items))
                continue
            out.append(self._part(part))
            n += 1
        return out

    def _items(self, items: Sequence[Item]) -> str:
        look, depth, out = self.look, -1, []
        for item in items:
            while depth > item.depth:
                out.append(r"\end{list}" if not self.default_lists else r"\end{itemize}")
                depth -= 1
            while depth < item.depth:
                hang = item_hang(item, look)
                first = look.list_indent if depth < 0 else 0
                space = rf"\itemsep={look.list_space}em\parsep=0pt\topsep={look.list_after}em"
                out.append(
                    r"\begin{itemize}"
                    if self.default_lists
                    else rf"\begin{{list}}{{}}{{\leftmargin={first + hang}em\labelwidth={hang - 0.4:.2f}em\labelsep=0.4em{space}\let\makelabel\leftlabel}}"
                )
                depth += 1
            mark = item_mark(item, look)
            out.append(
                (r"\item " if self.default_lists and not item.ordinal else rf"\item[{_text(mark)}] ")
                + self._spans(item.spans)
            )
        out += [r"\end{list}" if not self.default_lists else r"\end{itemize}"] * (depth + 1)
        return r"\providecommand\leftlabel[1]{#1\hfil}" + "\n".join(out)

    def _part(self, part: Part) -> str:
        match part:
            case Heading():
                return self._heading(part)
            case Paragraph():
                return self._paragraph(part)
            case Space():
                return rf"\vspace*{{{part.ems:.1f}em}}" if part.ems else r"\clearpage"
            case RunIn():
                return rf"\noindent\textbf{{{_text(part.heading)}}} {self._spans(part.paragraph.spans)}"
            case Term():
                look = "textbf" if self.look.term_bold else "textit"
                inset = max(self.look.list_indent, 1)
                return rf"\noindent\{look}{{{_text(part.term)}}}\par\nopagebreak{{\leftskip={inset}em \noindent {self._spans(part.spans)}\par}}"
            case Code():
                return "\\begin{verbatim}\n" + "\n".join(part.lines) + "\n\\end{verbatim}"
            case Contents():
                fill = r"\dotfill" if self.look.list_space < 0.3 else r"\hfill"
                return "\n\n".join(
                    rf"\noindent\hspace*{{{max(level - 1, 0) * 1.5}em}}{_text(text)} {fill} {page}\par"
                    for level, text, page in part.entries
                )
            case Picture():
                return self._picture(part)
            case Pairs():
                return self._pairs(part)
            case Table():
                return self._table(part)
            case Item():
                return self._items([part])
            case Sides():
                left, right = (
                    rf"\begin{{minipage}}[t]{{{share - 0.01:.2f}\linewidth}}\vspace{{0pt}}{chr(10).join(map(self._part, side))}\end{{minipage}}"
                    for side, share in ((part.left, part.share), (part.right, 1 - part.share))
                )
                return rf"\par\noindent{left}\hfill{right}\par\vspace{{8pt}}"
        raise TypeError(part)

    def _heading(self, part: Heading) -> str:
        look = self.look
        head = look.headings[min(part.level, 3)]
        text = part.text.upper() if head.capitals else part.text
        label = part.label.upper() if head.capitals else part.label
        number = rf"{_text(part.number)}\hspace{{0.8em}}" if part.number else ""
        mark = rf"\markboth{{{_text(part.text)}}}{{}}" if part.level <= 1 else ""
        shown = (rf"{_text(label)}\\ " if label else "") + number + _text(text)
        if part.beside:
            side = r"\raggedleft" if look.labels_right else r"\raggedright"
            return rf"\noindent\parbox{{{look.pairs_share:.2f}\linewidth}}{{{side}\large\bfseries {shown}}}\par\nopagebreak {mark}"
        if self.own_headings:
            looks = "".join(
                (
                    rf"\fontsize{{{look.size * head.size:.1f}}}{{{look.size * head.size * 1.2:.1f}}}\selectfont",
                    r"\bfseries" if head.bold else r"\mdseries", r"\itshape" if head.italic else "", r"\scshape" if head.small_capitals else "",
                    r"\sffamily" if head.sans else "", {"left": r"\raggedright", "center": r"\centering", "right": r"\raggedleft"}[head.align],
                    rf"\color[HTML]{{{head.color[1:].upper()}}}",
                )
            )  # fmt: skip
            return rf"\par\addvspace{{{head.above * look.size:.1f}pt}}{{\noindent{looks} {shown}\par}}\nopagebreak\vspace{{{head.below * look.size:.1f}pt}}{mark}"
        if part.level == 0:
            return rf"\begin{{center}}{{\LARGE {shown}\par}}\end{{center}}{mark}"
        chapters = self.class_ in ("report", "book") and self.made.columns == 1
        return rf"{COMMANDS[min(part.level - (1 if chapters else 0), 3)]}*{{{shown}}}{mark}"

    def _paragraph(self, part: Paragraph) -> str:
        spans = self._spans(part.spans)
        if part.size != 1:
            size = self.look.size * part.size
            spans = rf"\fontsize{{{size:.1f}}}{{{size * 1.2:.1f}}}\selectfont {spans}\par"
        around = {"": "flushleft", "center": "center", "right": "flushright"}[part.align]
        inset = self.look.quotation_indent
        match part.kind:
            case "lines":
                return (
                    rf"\begin{{{around}}}{spans}\end{{{around}}}"
                    if self.look.lines_space > 0.2
                    else rf"{{\noindent{ {'': '', 'center': chr(92) + 'centering ', 'right': chr(92) + 'raggedleft '}[part.align] } {spans}\par}}"
                )
            case "verse":
                return (
                    rf"\begin{{verse}}{spans}\end{{verse}}"
                    if self.look.verse_space > 0.2
                    else rf"{{\leftskip={inset}em\noindent {spans}\par}}"
                )
            case "quotation":
                text = rf"\itshape {spans}" if self.look.quotation_italic else spans
                return rf"\begin{{quote}}{text}\end{{quote}}"
            case "hanging":
                return rf"{{\noindent\hangindent={self.look.hang}em\hangafter=1 {spans}\par}}"
            case "box":
                return rf"\noindent\fbox{{\parbox{{0.95\linewidth}}{{{spans}}}}}"
            case "lead":
                return rf"\noindent{{\bfseries {spans}\par}}" if self.look.pairs_bold else rf"\noindent {spans}"
        return rf"\begin{{{around}}}{spans}\end{{{around}}}" if part.align else spans

    def _caption(self, text: str) -> str:
        look = self.look
        body = _text(text)
        if look.caption_style == "bold-label":
            words = text.split(" ", 2)
            body = rf"\textbf{{{_text(' '.join(words[:2]))}}} {_text(words[2] if len(words) > 2 else '')}"
        style = {"small": r"\small", "italic": r"\itshape", "centered": r"\centering"}.get(look.caption_style, "")
        return rf"{{{style} \noindent {body}\par}}"

    def _float(self, kind: str, body: str, caption: str) -> str:
        own = self._caption(caption) if caption else ""
        above, below = (
            (own + r"\vspace{4pt}", "") if self.look.caption_above and kind == "table" else ("", r"\vspace{4pt}" + own)
        )
        side = r"\centering" if self.look.caption_style == "centered" else r"\noindent"
        inner = rf"{above}{{{side} {body}\par}}{below}"
        if self.look.floats and self.made.columns == 1:
            return rf"\begin{{{kind}}}[htbp]{inner}\end{{{kind}}}"
        return rf"\par\vspace{{8pt}}{inner}\par\vspace{{8pt}}"

    def _picture(self, part: Picture) -> str:
        self.pictures.append(part)
        return self._float(
            "figure",
            rf"\includegraphics[width=\ifdim\linewidth<{part.width}pt \linewidth\else {part.width}pt\fi,height={part.height}pt]{{p{len(self.pictures) - 1}.png}}",
            part.caption,
        )

    def _pairs(self, part: Pairs) -> str:
        look = self.look
        if part.leader:
            return "\n\n".join(
                rf"\noindent {_text(label)} \dotfill\ {_text(value)}\par" for row in part.rows for label, value in row
            )
        beside = len(part.rows[0])
        label = look.pairs_share / beside - 0.02
        value = (1 - look.pairs_share) / beside - 0.02
        side = r"\raggedleft" if look.labels_right or part.upright else r"\raggedright"
        line = "|" if part.upright else ""
        columns = "".join(
            rf">{{{side}\arraybackslash}}p{{{label:.3f}\linewidth}}{line}>{{\raggedright\arraybackslash}}p{{{value:.3f}\linewidth}}"
            for _ in range(beside)
        )
        rows = []
        for row in part.rows:
            cells = []
            for text, what in row:
                cells.append(rf"\textbf{{{_text(text)}}}" if look.pairs_bold else _text(text))
                cells.append(r"\hrulefill" if part.line and not what else _text(what))
            rows.append(" & ".join(cells))
        body = r" \tabularnewline[2pt] ".join(rows)
        table = rf"\begin{{tabular}}{{@{{}}{columns}@{{}}}}{body}\end{{tabular}}"
        return rf"\par\vspace{{4pt}}\noindent {rf'{chr(92)}fbox{{{table}}}' if part.boxed else table}\par\vspace{{4pt}}"

    def _table(self, part: Table) -> str:
        look, count = self.look, len(part.shares)
        every = look.table_rules == "all"
        sides = [
            "r"
            if all(
                cell.right
                for row in part.rows[part.header_rows :]
                for k, cell in enumerate(row)
                if len(row) == count and k == n
            )
            else look.cell_align[0]
            for n in range(count)
        ]
        if part.full:
            room = part.width * (1 - 0.04 * count)
            columns = [
                rf">{{\{'raggedleft' if side == 'r' else 'centering' if side == 'c' else 'raggedright'}\arraybackslash}}p{{{share * room:.3f}\linewidth}}"
                for side, share in zip(sides, part.shares, strict=True)
            ]
        else:
            columns = sides
        bar = "|" if every else ""
        spec = bar + bar.join(columns) + bar
        ends = {"all": r"\hline", "rows": r"\hline", "three": r"\toprule", "outer": r"\hline"}.get(look.table_rules, "")
        rows = [ends]
        spanned: dict[int, int] = {}
        for r, row in enumerate(part.rows):
            cells, at = [], 0
            for cell in row:
                while spanned.get(at, 0):
                    spanned[at] -= 1
                    cells.append("")
                    at += 1
                text = _text(cell.text)
                text = rf"\textbf{{{text}}}" if cell.bold or (cell.header and look.header_bold) else text
                if cell.columns > 1:
                    text = rf"\multicolumn{{{cell.columns}}}{{{bar}{'c' if cell.header else 'l'}{bar}}}{{{text}}}"
                elif cell.header and look.header_align == "center" and not part.full:
                    text = rf"\multicolumn{{1}}{{{bar if at == 0 else ''}c{bar}}}{{{text}}}"
                cells.append(text)
                if cell.rows > 1:
                    spanned[at] = cell.rows - 1
                at += cell.columns
            while spanned.get(at, 0):
                spanned[at] -= 1
                cells.append("")
                at += 1
            after = ""
            if look.table_rules in ("all", "rows"):
                after = "" if any(spanned.values()) else r"\hline"
            elif r == part.header_rows - 1 and look.table_rules in ("three", "head"):
                after = r"\midrule" if look.table_rules == "three" else r"\hline"
            rows.append(" & ".join(cells) + r" \tabularnewline " + after)
        rows.append({"three": r"\bottomrule", "outer": r"\hline"}.get(look.table_rules, ""))
        small = {0.9: r"\small ", 0.8: r"\footnotesize "}.get(look.table_size, "")
        body = "\n".join(rows)
        if len(part.rows) > 14 and self.made.columns == 1:
            caption = self._caption(part.caption) if part.caption else ""
            table = rf"\begin{{longtable}}{{{spec}}}{body}\end{{longtable}}"
            return f"{caption}\n\n{table}" if look.caption_above else f"{table}\n\n{caption}"
        return self._float("table", rf"{{{small}\begin{{tabular}}{{{spec}}}{body}\end{{tabular}}}}", part.caption)
