-- A whole discussion is taken along as well: to be heard offline in threads, or as one sound with chapters.
ALTER TABLE exports
  MODIFY kind ENUM('workbook', 'tables', 'sheets', 'sheetFiles', 'gradebook', 'talk', 'talkSound') NOT NULL,
  ADD COLUMN IF NOT EXISTS release_id UUID NULL,
  ADD CONSTRAINT exports_release_fk FOREIGN KEY IF NOT EXISTS (release_id) REFERENCES releases (id) ON DELETE CASCADE;
