-- What was seen when a document was looked back at: what looks otherwise in the result than in the source.
CREATE TABLE looked_back (
    document TEXT PRIMARY KEY REFERENCES documents (id) ON DELETE CASCADE,
    body BLOB NOT NULL
) WITHOUT ROWID;
