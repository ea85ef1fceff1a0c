DELETE FROM library_parts WHERE kind = 'component';
ALTER TABLE library_parts DROP CONSTRAINT library_parts_kind_check;
ALTER TABLE library_parts ADD CONSTRAINT library_parts_kind_check
    CHECK (kind IN ('motor', 'controller', 'module', 'charger'));
