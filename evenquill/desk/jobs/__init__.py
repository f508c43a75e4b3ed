"""Jobs by kind: what each does with its document, in the background."""
