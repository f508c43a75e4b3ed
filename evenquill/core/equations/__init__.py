"""Equations in other forms: MathML and typst for documents, TeX for the clerk, sentences for those who listen."""
