CREATE TABLE workspaces (
    id uuid PRIMARY KEY,
    name text NOT NULL,
    created_at timestamptz NOT NULL DEFAULT now()
);

-- One workspace for now; sign-in comes later, so everything already belongs to one.
INSERT INTO workspaces (id, name) VALUES ('00000000-0000-0000-0000-000000000001', 'Workshop');

CREATE TABLE conversions (
    id uuid PRIMARY KEY,
    workspace_id uuid NOT NULL REFERENCES workspaces ON DELETE CASCADE,
    name text NOT NULL CHECK (length(btrim(name)) BETWEEN 1 AND 120),
    notes text NOT NULL DEFAULT '',
    units text NOT NULL DEFAULT 'metric' CHECK (units IN ('metric', 'imperial', 'mix')),
    brief jsonb NOT NULL,
    donor jsonb NOT NULL,
    version integer NOT NULL DEFAULT 1,
    created_at timestamptz NOT NULL DEFAULT now(),
    updated_at timestamptz NOT NULL DEFAULT now()
);
CREATE INDEX conversions_of_workspace ON conversions (workspace_id, updated_at DESC);

CREATE TABLE designs (
    id uuid PRIMARY KEY,
    conversion_id uuid NOT NULL REFERENCES conversions ON DELETE CASCADE,
    label text NOT NULL CHECK (length(label) BETWEEN 1 AND 8),
    body jsonb NOT NULL,
    version integer NOT NULL DEFAULT 1,
    created_at timestamptz NOT NULL DEFAULT now(),
    updated_at timestamptz NOT NULL DEFAULT now(),
    UNIQUE (conversion_id, label)
);

CREATE TABLE library_parts (
    id uuid PRIMARY KEY,
    workspace_id uuid NOT NULL REFERENCES workspaces ON DELETE CASCADE,
    kind text NOT NULL CHECK (kind IN ('motor', 'controller', 'module', 'charger')),
    name text NOT NULL,
    record jsonb NOT NULL,
    version integer NOT NULL DEFAULT 1,
    created_at timestamptz NOT NULL DEFAULT now(),
    updated_at timestamptz NOT NULL DEFAULT now(),
    UNIQUE (workspace_id, kind, name)
);
