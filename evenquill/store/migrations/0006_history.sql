-- One owner for each document: revisions that only grow, readings of pages that are kept, jobs with leases, decisions apart.

CREATE TABLE documents_new (
    id TEXT PRIMARY KEY,
    name TEXT NOT NULL,
    source TEXT NOT NULL,                 -- SHA-256 of the (first) file as it came
    size INTEGER NOT NULL,                -- bytes
    route TEXT NOT NULL,                  -- how it came: browser, demo
    state TEXT NOT NULL CHECK (state IN ('waiting', 'reading', 'to correct', 'ready', 'delivered', 'stopped', 'failed')),
    needs TEXT NOT NULL DEFAULT '' CHECK (needs IN ('', 'password', 'rights')),
    problem TEXT NOT NULL DEFAULT '',     -- what went wrong, in a sentence
    stage TEXT NOT NULL DEFAULT '',       -- what is being done while it is read, in words for the clerk
    kind TEXT NOT NULL DEFAULT '',        -- native, scanned, mixed
    sized_up TEXT NOT NULL DEFAULT '',    -- what sizing up found, in words for the clerk
    language TEXT NOT NULL DEFAULT '',
    page_count INTEGER NOT NULL DEFAULT 0,
    revision INTEGER NOT NULL DEFAULT 0,  -- the number of the last change; only grows
    next_id INTEGER NOT NULL DEFAULT 1,   -- the counter that ids of blocks, rows, cells and sections come from
    rights_confirmed INTEGER NOT NULL DEFAULT 0,
    preview INTEGER NOT NULL DEFAULT 0,   -- 1 while blocks stand for the first pages only
    facts BLOB,                           -- SourceFacts as JSON
    properties BLOB,                      -- Document without blocks, pages and decisions as JSON
    joined_into TEXT NOT NULL DEFAULT '', -- the document that this one was joined into, while it is deleted for that
    arrived_at TEXT NOT NULL,
    changed_at TEXT NOT NULL,
    deleted_at TEXT
);
INSERT INTO documents_new (id, name, source, size, route, state, needs, problem, stage, kind, sized_up, language, page_count, revision,
    rights_confirmed, preview, facts, properties, arrived_at, changed_at, deleted_at)
SELECT id, name, source, size, route,
    CASE WHEN state = 'stopped' AND needs = '' AND problem <> 'Reading was stopped.' THEN 'failed' ELSE state END,
    needs, problem, stage, kind, sized_up, language, page_count, revision, rights_confirmed, preview, facts, properties, arrived_at,
    changed_at, deleted_at
FROM documents;
DROP TABLE documents;
ALTER TABLE documents_new RENAME TO documents;
CREATE INDEX documents_by_source ON documents (source);

-- Readings of pages: what a reader found, kept as it is for as long as the document is there, so that undo can go back to it.
CREATE TABLE page_readings (
    id INTEGER PRIMARY KEY,
    document TEXT NOT NULL REFERENCES documents (id) ON DELETE CASCADE,
    kind TEXT NOT NULL,
    remark TEXT NOT NULL DEFAULT '',
    seconds REAL NOT NULL,
    width REAL NOT NULL,                  -- points
    height REAL NOT NULL,
    cleaned BLOB,                         -- Cleaned as JSON where the page was read from a picture
    evidence BLOB NOT NULL                -- PageEvidence as compressed MessagePack
);
CREATE INDEX page_readings_by_document ON page_readings (document);

-- Which reading stands for each page now.
CREATE TABLE pages_new (
    document TEXT NOT NULL REFERENCES documents (id) ON DELETE CASCADE,
    number INTEGER NOT NULL,
    reading INTEGER NOT NULL REFERENCES page_readings (id),
    PRIMARY KEY (document, number)
) WITHOUT ROWID;

-- Every change of a document, for ever. A step (edit, read again, reorder, join) is done, undone or superseded; the others are marks.
CREATE TABLE changes (
    document TEXT NOT NULL REFERENCES documents (id) ON DELETE CASCADE,
    number INTEGER NOT NULL,              -- the revision that it made
    parent INTEGER NOT NULL,              -- the revision that it was made of
    kind TEXT NOT NULL,                   -- read, preview, edit, undo, redo, read again, reorder, join, restore
    actor TEXT NOT NULL,                  -- who: clerk, or the part of the machine
    made_at TEXT NOT NULL,
    target INTEGER,                       -- the step that an undo or redo was for
    status TEXT CHECK (status IN ('done', 'undone', 'superseded')),
    operation BLOB,                       -- Operation as JSON, for edits
    first_id INTEGER,                     -- the first number that its new ids were given from
    inverse BLOB,                         -- the steps that undo it as JSON, for edits
    settled INTEGER NOT NULL DEFAULT 0,   -- queries that it answered or made go away,
    kept INTEGER NOT NULL DEFAULT 0,      -- of these kept as they were,
    typed INTEGER NOT NULL DEFAULT 0,     -- and characters typed by hand
    PRIMARY KEY (document, number)
);
CREATE INDEX changes_by_status ON changes (document, status, number, settled, kept, typed);

-- Whole documents as they were: as read (the base of later merges), and before and after a step that is no edit.
CREATE TABLE snapshots (
    document TEXT NOT NULL REFERENCES documents (id) ON DELETE CASCADE,
    number INTEGER NOT NULL,              -- of the change that it belongs to
    role TEXT NOT NULL CHECK (role IN ('read', 'before', 'after')),
    body BLOB NOT NULL,                   -- Snapshot as compressed MessagePack
    PRIMARY KEY (document, number, role)
);

-- What the clerk has decided about doubts without changing anything.
CREATE TABLE kept_doubts (
    document TEXT NOT NULL REFERENCES documents (id) ON DELETE CASCADE,
    position INTEGER NOT NULL,
    doubt BLOB NOT NULL,                  -- DoubtKey as JSON
    PRIMARY KEY (document, position)
);
CREATE INDEX kept_doubts_by_key ON kept_doubts (document, doubt);
CREATE TABLE document_words (
    document TEXT NOT NULL REFERENCES documents (id) ON DELETE CASCADE,
    position INTEGER NOT NULL,
    word TEXT NOT NULL,
    PRIMARY KEY (document, position)
);
CREATE INDEX document_words_by_word ON document_words (document, word);

-- What is to be done in the background. It outlives the server: a job whose lease has run out is taken again.
CREATE TABLE jobs_new (
    number INTEGER PRIMARY KEY,
    kind TEXT NOT NULL,                   -- read, read again, reorder, word shapes
    document TEXT NOT NULL REFERENCES documents (id) ON DELETE CASCADE,
    payload BLOB,                         -- what the kind needs to know, as JSON
    priority INTEGER NOT NULL DEFAULT 0,  -- higher ones first
    state TEXT NOT NULL CHECK (state IN ('waiting', 'running', 'done', 'failed', 'cancelled')),
    owner TEXT NOT NULL DEFAULT '',       -- the server that has it
    lease_until TEXT,                     -- when another may take it
    tries INTEGER NOT NULL DEFAULT 0,
    problem TEXT NOT NULL DEFAULT '',
    queued_at TEXT NOT NULL,
    ended_at TEXT
);

-- Pages that a job has read and not yet put in their place.
CREATE TABLE job_pages (
    job INTEGER NOT NULL REFERENCES jobs_new (number) ON DELETE CASCADE,
    number INTEGER NOT NULL,
    reading INTEGER NOT NULL REFERENCES page_readings (id),
    PRIMARY KEY (job, number)
) WITHOUT ROWID;

-- The pages of the source as the document knows them: apart from its other properties, since a long document has thousands.
CREATE TABLE page_geometry (
    document TEXT NOT NULL REFERENCES documents (id) ON DELETE CASCADE,
    number INTEGER NOT NULL,
    label TEXT NOT NULL DEFAULT '',       -- the number that is printed on it
    body BLOB NOT NULL,                   -- PageGeometry as JSON
    PRIMARY KEY (document, number)
) WITHOUT ROWID;
