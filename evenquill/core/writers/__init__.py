"""Writers: a document -> a file. They decide nothing: what they write was settled in rebuild or by the clerk."""
