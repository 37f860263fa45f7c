-- People who talk with each other over days. Each spoken contribution of a student is a take of the talk (its own id), so that
-- it is measured, noted and kept as every take; what it says, where it belongs and who may hear it stands here.
CREATE TABLE IF NOT EXISTS contributions (
  id UUID PRIMARY KEY,
  release_id UUID NOT NULL,
  -- Who talks among themselves: 0 for everybody.
  circle SMALLINT UNSIGNED NOT NULL DEFAULT 0,
  -- The student's sitting and the item that is the talk; NULL for a teacher's.
  sitting_id UUID NULL,
  item_id UUID NULL,
  author_id UUID NOT NULL,
  -- Of a thread's beginning: the starting point (an item) that it is about; NULL for the subject itself.
  topic_id UUID NULL,
  parent_id UUID NULL,
  -- The stretch of the parent that it replies to.
  from_ms INT UNSIGNED NULL,
  to_ms INT UNSIGNED NULL,
  -- An own contribution whose place it takes.
  corrects_id UUID NULL,
  voice_id UUID NULL,
  title VARCHAR(160) NOT NULL DEFAULT '',
  words TEXT NOT NULL,
  -- When it was recorded or begun, put in, let in (by the teacher, where that is asked for), heard by nobody any more.
  made_at DATETIME(3) NOT NULL,
  put_in_at DATETIME(3) NULL,
  let_in_at DATETIME(3) NULL,
  taken_back_at DATETIME(3) NULL,
  replaced_at DATETIME(3) NULL,
  hidden_at DATETIME(3) NULL,
  hidden_by UUID NULL,
  hidden_for VARCHAR(500) NOT NULL DEFAULT '',
  KEY contributions_release (release_id, put_in_at),
  KEY contributions_sitting (sitting_id),
  KEY contributions_parent (parent_id),
  KEY contributions_corrects (corrects_id),
  UNIQUE KEY contributions_voice (voice_id),
  CONSTRAINT contributions_release_fk FOREIGN KEY (release_id) REFERENCES releases (id) ON DELETE CASCADE,
  CONSTRAINT contributions_sitting_fk FOREIGN KEY (sitting_id) REFERENCES sittings (id) ON DELETE CASCADE,
  CONSTRAINT contributions_author_fk FOREIGN KEY (author_id) REFERENCES people (id) ON DELETE CASCADE
) DEFAULT CHARSET=utf8mb4;

CREATE TABLE IF NOT EXISTS contributions_heard (
  person_id UUID NOT NULL,
  contribution_id UUID NOT NULL,
  heard_at DATETIME(3) NOT NULL,
  PRIMARY KEY (person_id, contribution_id),
  KEY contributions_heard_contribution (contribution_id),
  CONSTRAINT contributions_heard_person_fk FOREIGN KEY (person_id) REFERENCES people (id) ON DELETE CASCADE,
  CONSTRAINT contributions_heard_fk FOREIGN KEY (contribution_id) REFERENCES contributions (id) ON DELETE CASCADE
);

-- Who talks with whom, where a release is shared out; whoever is not in it hears the whole.
CREATE TABLE IF NOT EXISTS circles (
  release_id UUID NOT NULL,
  person_id UUID NOT NULL,
  circle SMALLINT UNSIGNED NOT NULL,
  PRIMARY KEY (release_id, person_id),
  KEY circles_person (person_id),
  CONSTRAINT circles_release_fk FOREIGN KEY (release_id) REFERENCES releases (id) ON DELETE CASCADE,
  CONSTRAINT circles_person_fk FOREIGN KEY (person_id) REFERENCES people (id) ON DELETE CASCADE
);
