"""What lines are and which of them belong together, by models fitted on documents with known structure.

``features`` measures each line and each pair of neighbours by relations that hold for any document; ``decide`` asks the models of
``core.fitted`` how probable each role and joint is; ``segments`` finds the most probable division of a column.
"""
