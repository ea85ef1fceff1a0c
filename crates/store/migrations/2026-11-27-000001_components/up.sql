-- Fuses, contactors, cables and the like are parts of the library too.
ALTER TABLE library_parts DROP CONSTRAINT library_parts_kind_check;
ALTER TABLE library_parts ADD CONSTRAINT library_parts_kind_check
    CHECK (kind IN ('motor', 'controller', 'module', 'charger', 'component'));
