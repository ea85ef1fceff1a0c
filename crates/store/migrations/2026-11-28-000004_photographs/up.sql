-- Photographs of a vehicle as it was, scaled down, without the marks of the camera.
CREATE TABLE photographs (
    id uuid PRIMARY KEY,
    conversion_id uuid NOT NULL REFERENCES conversions (id) ON DELETE CASCADE,
    caption text NOT NULL CHECK (length(caption) <= 300),
    about text NOT NULL CHECK (length(about) <= 300),
    width integer NOT NULL CHECK (width > 0),
    height integer NOT NULL CHECK (height > 0),
    picture bytea NOT NULL CHECK (length(picture) <= 4194304),
    thumbnail bytea NOT NULL CHECK (length(thumbnail) <= 262144),
    added_at timestamptz NOT NULL DEFAULT now()
);
CREATE INDEX photographs_of_conversion ON photographs (conversion_id, added_at);
