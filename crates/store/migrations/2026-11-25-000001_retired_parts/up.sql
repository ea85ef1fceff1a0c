ALTER TABLE library_parts ADD COLUMN retired boolean NOT NULL DEFAULT false;
