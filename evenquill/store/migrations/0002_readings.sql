-- The files that a document is made of, in their order.
CREATE TABLE parts (
    document TEXT NOT NULL REFERENCES documents (id) ON DELETE CASCADE,
    position INTEGER NOT NULL,            -- from 0
    source TEXT NOT NULL,                 -- SHA-256 of the file
    name TEXT NOT NULL,
    facts BLOB,                           -- SourceFacts as JSON, once it was examined
    PRIMARY KEY (document, position)
) WITHOUT ROWID;
INSERT INTO parts (document, position, source, name, facts) SELECT id, 0, source, name, facts FROM documents;

-- How pages are to be read, as the clerk chose; number 0 stands for all pages that are not named.
CREATE TABLE preparations (
    document TEXT NOT NULL REFERENCES documents (id) ON DELETE CASCADE,
    number INTEGER NOT NULL,
    choices BLOB NOT NULL,                -- Preparation as JSON
    PRIMARY KEY (document, number)
) WITHOUT ROWID;

-- Pages that are being read again. Their new evidence takes the place of the old when all of them are done.
CREATE TABLE readings_again (
    document TEXT NOT NULL REFERENCES documents (id) ON DELETE CASCADE,
    number INTEGER NOT NULL,
    evidence BLOB,                        -- NULL until it is read
    PRIMARY KEY (document, number)
) WITHOUT ROWID;

-- Another number for each reading of a page, so that nothing of an earlier one is shown.
ALTER TABLE pages ADD COLUMN reading INTEGER NOT NULL DEFAULT 0;

-- What sizing up found, in words for the clerk.
ALTER TABLE documents ADD COLUMN sized_up TEXT NOT NULL DEFAULT '';
