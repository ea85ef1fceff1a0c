-- The version of the format each body was written in, so that a later change of the format knows what it meets.
ALTER TABLE conversions ADD COLUMN format integer NOT NULL DEFAULT 1;
ALTER TABLE designs ADD COLUMN format integer NOT NULL DEFAULT 1;
ALTER TABLE library_parts ADD COLUMN format integer NOT NULL DEFAULT 1;

-- One row, written and committed to find out whether the database can still be written.
CREATE TABLE readiness (
    id integer PRIMARY KEY CHECK (id = 1),
    asked_at timestamptz NOT NULL
);
INSERT INTO readiness (id, asked_at) VALUES (1, now());
