"""Names of signs in TeX, as LaTeX and amsmath have them."""

from __future__ import annotations

_GREEK_NAMES = (
    "alpha beta gamma delta varepsilon zeta eta theta iota kappa lambda mu nu xi pi rho sigma tau upsilon varphi chi psi "
    "omega Gamma Delta Theta Lambda Xi Pi Sigma Upsilon Phi Psi Omega"
)
_GREEK = dict(
    zip(
        "αβγδεζηθικλμνξπρστυφχψωΓΔΘΛΞΠΣΥΦΨΩ",
        _GREEK_NAMES.split(),
        strict=True,
    )
)
_SIGNS = {
    "ϵ": "epsilon", "ϕ": "phi", "ϑ": "vartheta", "ϱ": "varrho", "ς": "varsigma", "ϖ": "varpi", "ϰ": "varkappa", "∂": "partial",
    "∇": "nabla",
    "∞": "infty", "ℓ": "ell", "ℏ": "hbar", "ℑ": "Im", "ℜ": "Re", "ℵ": "aleph", "℘": "wp", "∅": "emptyset", "∀": "forall", "∃": "exists",
    "¬": "neg", "∠": "angle", "△": "triangle", "□": "square", "⊤": "top", "ı": "imath", "ȷ": "jmath", "…": "ldots", "⋯": "cdots",
    "⋮": "vdots",
    "⋱": "ddots", "∑": "sum", "∏": "prod", "∐": "coprod", "∫": "int", "∬": "iint", "∭": "iiint", "∮": "oint", "⋃": "bigcup",
    "⋂": "bigcap",
    "⨁": "bigoplus", "⨂": "bigotimes", "⋁": "bigvee", "⋀": "bigwedge", "⨆": "bigsqcup", "±": "pm", "∓": "mp", "×": "times", "÷": "div",
    "·": "cdot", "⋅": "cdot", "∗": "ast", "∘": "circ", "∙": "bullet", "⊕": "oplus", "⊗": "otimes", "⊖": "ominus", "∪": "cup", "∩": "cap",
    "∧": "wedge", "∨": "vee", "∖": "setminus", "⋆": "star", "†": "dagger", "≤": "leq", "≥": "geq", "⩽": "leqslant", "⩾": "geqslant",
    "≠": "neq", "≈": "approx", "≡": "equiv", "∼": "sim", "≃": "simeq", "≅": "cong", "≪": "ll", "≫": "gg", "∈": "in", "∉": "notin",
    "∋": "ni", "⊂": "subset", "⊃": "supset", "⊆": "subseteq", "⊇": "supseteq", "→": "to", "←": "leftarrow", "↔": "leftrightarrow",
    "⇒": "Rightarrow", "⇐": "Leftarrow", "⇔": "Leftrightarrow", "↦": "mapsto", "⟶": "longrightarrow", "⟹": "implies", "⟺": "iff",
    "↑": "uparrow", "↓": "downarrow", "∝": "propto", "⊥": "perp", "∥": "parallel", "≺": "prec", "≻": "succ", "∣": "mid", "⊢": "vdash",
    "⊨": "models", "≐": "doteq", "≲": "lesssim", "≳": "gtrsim", "⇌": "rightleftharpoons", "⟨": "langle", "⟩": "rangle", "⌊": "lfloor",
    "⌋": "rfloor", "⌈": "lceil", "⌉": "rceil", "‖": "|", "{": "{", "}": "}", "%": "%", "#": "#", "&": "&", "$": "$", "_": "_",
    "°": "degree",
    "⊙": "odot", "⊔": "sqcup", "⊓": "sqcap", "◦": "circ",
}  # fmt: skip

NAMES = {**_GREEK, **_SIGNS}
"""The name of each sign, without the backslash."""

ACCENT_NAMES = {
    "^": "hat", "~": "tilde", "¯": "bar", "˙": "dot", "¨": "ddot", "→": "vec", "ˇ": "check", "˘": "breve", "´": "acute", "`": "grave",
    "˚": "mathring",
}  # fmt: skip
