ALTER TABLE library_parts DROP COLUMN retired;
