-- Who may sign in, who is signed in, and who did what.
CREATE TABLE accounts (
    name TEXT PRIMARY KEY COLLATE NOCASE,
    role TEXT NOT NULL,
    password TEXT NOT NULL,               -- argon2id, in its standard notation
    made_at TEXT NOT NULL
);
CREATE TABLE sessions (
    id TEXT PRIMARY KEY,                  -- SHA-256 of what the browser keeps
    account TEXT NOT NULL COLLATE NOCASE REFERENCES accounts (name) ON DELETE CASCADE ON UPDATE CASCADE,
    token TEXT NOT NULL,                  -- what a request must bear that changes something
    made_at TEXT NOT NULL,
    used_at TEXT NOT NULL
);
CREATE INDEX sessions_by_account ON sessions (account);
ALTER TABLE deliveries ADD COLUMN actor TEXT NOT NULL DEFAULT 'clerk';
