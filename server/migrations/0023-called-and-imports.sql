-- What comments call somebody, where the first of their names is not it.
ALTER TABLE people ADD COLUMN IF NOT EXISTS called VARCHAR(120) NULL AFTER display_name;

-- What came into a comment bank from a file, so that it can be taken out again as one.
CREATE TABLE IF NOT EXISTS bank_imports (
  id UUID PRIMARY KEY,
  owner_id UUID NOT NULL,
  file_name VARCHAR(255) NOT NULL,
  made_at DATETIME(3) NOT NULL,
  undone_at DATETIME(3) NULL,
  KEY bank_imports_owner (owner_id, made_at),
  CONSTRAINT bank_imports_owner_fk FOREIGN KEY (owner_id) REFERENCES people (id)
) DEFAULT CHARSET=utf8mb4;

ALTER TABLE comment_topics ADD COLUMN IF NOT EXISTS import_id UUID NULL;
ALTER TABLE bank_comments ADD COLUMN IF NOT EXISTS import_id UUID NULL;
