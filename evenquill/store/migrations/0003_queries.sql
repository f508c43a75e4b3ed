-- Doubts about a document, as they stand at its revision.
CREATE TABLE queries (
    document TEXT NOT NULL REFERENCES documents (id) ON DELETE CASCADE,
    id TEXT NOT NULL,
    block TEXT NOT NULL,                  -- empty where a page or the whole document is meant
    kind TEXT NOT NULL,
    counted INTEGER NOT NULL,             -- 0 for kinds that are kept unless the clerk says otherwise
    left INTEGER NOT NULL DEFAULT 0,      -- 1 where the clerk left it for later
    body BLOB NOT NULL,                   -- Query as JSON
    PRIMARY KEY (document, id)
) WITHOUT ROWID;
CREATE INDEX queries_by_block ON queries (document, block);

-- What a step of the history settled: queries it answered or made go away, of these kept as they were, and characters typed by hand.
ALTER TABLE operations ADD COLUMN settled INTEGER NOT NULL DEFAULT 0;
ALTER TABLE operations ADD COLUMN kept INTEGER NOT NULL DEFAULT 0;
ALTER TABLE operations ADD COLUMN typed INTEGER NOT NULL DEFAULT 0;

-- The office's own list of words, kept over documents.
CREATE TABLE office_words (
    word TEXT PRIMARY KEY,
    instead TEXT NOT NULL DEFAULT ''      -- what the word always stands for; empty where it is right itself
) WITHOUT ROWID;

-- How the words of a page look, to find those that look alike: one row of bits for each word of the proof.
CREATE TABLE word_shapes (
    document TEXT NOT NULL REFERENCES documents (id) ON DELETE CASCADE,
    page INTEGER NOT NULL,
    reading INTEGER NOT NULL,             -- that of the page when they were taken
    boxes BLOB NOT NULL,
    shapes BLOB NOT NULL,
    PRIMARY KEY (document, page)
) WITHOUT ROWID;

-- What is being done with a document that is being read, in words for the clerk.
ALTER TABLE documents ADD COLUMN stage TEXT NOT NULL DEFAULT '';
