"""Equations in other forms: OMML and MathML for documents, TeX for the clerk, sentences for those who listen."""
