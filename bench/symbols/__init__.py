"""Training and judging the recogniser of symbols for formulas."""
