-- What a teacher says at a moment, or along a stretch, of a take. Each change is a row of its own: a note that was
-- reworded or taken away stays, superseded. `in_force` is 1 for the wording that holds, else NULL.
CREATE TABLE notes (
  id UUID NOT NULL,
  revision INT UNSIGNED NOT NULL,
  take_id UUID NOT NULL,
  from_ms INT UNSIGNED NOT NULL,
  to_ms INT UNSIGNED NULL,
  words VARCHAR(2000) NOT NULL,
  author_id UUID NOT NULL,
  created_at DATETIME(3) NOT NULL,
  superseded_at DATETIME(3) NULL,
  in_force TINYINT AS (IF(superseded_at IS NULL, 1, NULL)) PERSISTENT,
  PRIMARY KEY (id, revision),
  UNIQUE KEY notes_in_force (id, in_force),
  KEY notes_take (take_id, in_force, from_ms),
  CONSTRAINT notes_take_fk FOREIGN KEY (take_id) REFERENCES takes (id),
  CONSTRAINT notes_author FOREIGN KEY (author_id) REFERENCES people (id)
) DEFAULT CHARSET=utf8mb4;
