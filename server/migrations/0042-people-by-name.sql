-- Somebody is looked for by the beginning of their name: among half a million, not by reading all of them.
CREATE INDEX IF NOT EXISTS people_display_name ON people (display_name);
