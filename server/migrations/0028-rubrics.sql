-- Rubrics that teachers keep under a name of their own.
CREATE TABLE IF NOT EXISTS rubrics (
  id UUID PRIMARY KEY,
  owner_id UUID NOT NULL,
  name VARCHAR(160) NOT NULL,
  rubric LONGTEXT NOT NULL CHECK (JSON_VALID(rubric)),
  -- Students read it.
  shown BOOLEAN NOT NULL,
  kept_at DATETIME(3) NOT NULL,
  -- Taken off the shelf; it can be put back.
  taken_at DATETIME(3) NULL,
  KEY rubrics_owner (owner_id, taken_at, name),
  CONSTRAINT rubrics_owner_fk FOREIGN KEY (owner_id) REFERENCES people (id)
) DEFAULT CHARSET=utf8mb4;
