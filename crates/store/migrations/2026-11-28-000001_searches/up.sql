-- What a search of the library found for a conversion: the last of each name, with what it was asked for.
CREATE TABLE searches (
    conversion_id uuid NOT NULL REFERENCES conversions (id) ON DELETE CASCADE,
    name text NOT NULL CHECK (name IN ('main', 'other-pack', 'years-big', 'years-small')),
    asked text NOT NULL CHECK (length(asked) <= 100),
    answer jsonb NOT NULL,
    relaxations jsonb,
    format integer NOT NULL DEFAULT 1,
    found_at timestamptz NOT NULL DEFAULT now(),
    PRIMARY KEY (conversion_id, name)
);
