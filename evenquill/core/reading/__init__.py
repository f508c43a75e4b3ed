"""Reading: one page in, the evidence of what is on it out."""
