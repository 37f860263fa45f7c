-- What somebody takes along: made by a job, kept for a day.
CREATE TABLE IF NOT EXISTS exports (
  id UUID PRIMARY KEY,
  owner_id UUID NOT NULL,
  class_id UUID NOT NULL,
  kind ENUM('workbook', 'tables', 'sheets', 'sheetFiles', 'gradebook') NOT NULL,
  -- Days between which what is taken along was due; NULL for no limit.
  from_on DATE NULL,
  to_on DATE NULL,
  state ENUM('waiting', 'running', 'done', 'failed', 'cancelled') NOT NULL,
  done INT UNSIGNED NOT NULL DEFAULT 0,
  total INT UNSIGNED NOT NULL DEFAULT 0,
  file_name VARCHAR(255) NULL,
  size_bytes BIGINT UNSIGNED NULL,
  -- Why nothing came of it, in words for whoever asked.
  problem VARCHAR(300) NULL,
  made_at DATETIME(3) NOT NULL,
  KEY exports_owner (owner_id, made_at),
  KEY exports_made (made_at),
  CONSTRAINT exports_owner_fk FOREIGN KEY (owner_id) REFERENCES people (id),
  CONSTRAINT exports_class_fk FOREIGN KEY (class_id) REFERENCES classes (id) ON DELETE CASCADE
) DEFAULT CHARSET=utf8mb4;
