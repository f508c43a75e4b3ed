-- A document from its arrival to its delivery.
CREATE TABLE documents (
    id TEXT PRIMARY KEY,
    name TEXT NOT NULL,
    source TEXT NOT NULL,                 -- SHA-256 of the file as it came
    size INTEGER NOT NULL,                -- bytes
    route TEXT NOT NULL,                  -- how it came: browser, demo
    state TEXT NOT NULL CHECK (state IN ('waiting', 'reading', 'to correct', 'ready', 'delivered', 'stopped')),
    needs TEXT NOT NULL DEFAULT '' CHECK (needs IN ('', 'password', 'rights')),
    problem TEXT NOT NULL DEFAULT '',     -- what went wrong, in a sentence
    kind TEXT NOT NULL DEFAULT '',        -- native, scanned, mixed
    language TEXT NOT NULL DEFAULT '',
    page_count INTEGER NOT NULL DEFAULT 0,
    revision INTEGER NOT NULL DEFAULT 0,  -- grows with every change of the blocks
    rights_confirmed INTEGER NOT NULL DEFAULT 0,
    preview INTEGER NOT NULL DEFAULT 0,   -- 1 while blocks stand for the first pages only
    facts BLOB,                           -- SourceFacts as JSON
    properties BLOB,                      -- Document without its blocks as JSON
    arrived_at TEXT NOT NULL,
    changed_at TEXT NOT NULL,
    deleted_at TEXT
);
CREATE INDEX documents_by_source ON documents (source);

-- What a reader found on a page; enough to rebuild without reading again.
CREATE TABLE pages (
    document TEXT NOT NULL REFERENCES documents (id) ON DELETE CASCADE,
    number INTEGER NOT NULL,
    kind TEXT NOT NULL,
    remark TEXT NOT NULL DEFAULT '',
    seconds REAL NOT NULL,
    evidence BLOB NOT NULL,               -- PageEvidence as compressed MessagePack
    PRIMARY KEY (document, number)
) WITHOUT ROWID;

-- The blocks of the proof. Positions leave room between them, so that an insertion moves no other row.
CREATE TABLE blocks (
    document TEXT NOT NULL REFERENCES documents (id) ON DELETE CASCADE,
    id TEXT NOT NULL,
    position INTEGER NOT NULL,
    page INTEGER NOT NULL,
    body BLOB NOT NULL,                   -- Block as JSON
    PRIMARY KEY (document, id)
) WITHOUT ROWID;
CREATE INDEX blocks_in_order ON blocks (document, position);

-- Every operation with what undoes it. Undone ones stay until another operation takes their place.
CREATE TABLE operations (
    number INTEGER PRIMARY KEY,
    document TEXT NOT NULL REFERENCES documents (id) ON DELETE CASCADE,
    operation BLOB NOT NULL,
    inverse BLOB NOT NULL,
    undone INTEGER NOT NULL DEFAULT 0,
    made_at TEXT NOT NULL
);
CREATE INDEX operations_by_document ON operations (document, number);

-- Attempts at reading a document.
CREATE TABLE jobs (
    number INTEGER PRIMARY KEY,
    document TEXT NOT NULL REFERENCES documents (id) ON DELETE CASCADE,
    state TEXT NOT NULL CHECK (state IN ('waiting', 'running', 'done', 'failed', 'cancelled')),
    queued_at TEXT NOT NULL,
    ended_at TEXT
);
CREATE INDEX jobs_by_state ON jobs (state, number);

CREATE TABLE deliveries (
    id TEXT PRIMARY KEY,
    document TEXT NOT NULL REFERENCES documents (id) ON DELETE CASCADE,
    format TEXT NOT NULL,
    file_name TEXT NOT NULL,
    revision INTEGER NOT NULL,
    size INTEGER NOT NULL,
    made_at TEXT NOT NULL
);
CREATE INDEX deliveries_by_document ON deliveries (document, made_at);
