"""What lines are and which of them belong together, by models fitted on documents with known structure.

``features`` measures each line and each pair of neighbours by relations that hold for any document; ``trees`` turns measures into
probabilities; ``segments`` finds the most probable division of a column.
"""
