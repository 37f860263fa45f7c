-- Slips with a picture code that sign in a child who cannot read: only the hash of what stands on the paper is kept.
CREATE TABLE IF NOT EXISTS sign_in_slips (
  person_id UUID NOT NULL PRIMARY KEY,
  token_hash CHAR(64) NOT NULL,
  made_by UUID NOT NULL,
  made_at DATETIME(3) NOT NULL,
  used_at DATETIME(3) NULL,
  UNIQUE KEY sign_in_slips_token (token_hash),
  FOREIGN KEY (person_id) REFERENCES people (id) ON DELETE CASCADE,
  FOREIGN KEY (made_by) REFERENCES people (id) ON DELETE CASCADE
);
