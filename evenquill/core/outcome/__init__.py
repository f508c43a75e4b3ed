"""How a document comes out: its pages as they are set, what stands where on them, what does not fit, and how it can be made to fit."""
