DROP TABLE library_parts;
DROP TABLE designs;
DROP TABLE conversions;
DROP TABLE workspaces;
