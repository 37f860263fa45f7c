-- What a teacher marks on what a student read, played from or made a picture of: miscues on a passage (a running record),
-- drawing and text. Every version stays; `in_force` is 1 for the one that holds, else NULL.
CREATE TABLE markups (
  id UUID PRIMARY KEY,
  sitting_id UUID NOT NULL,
  item_id UUID NOT NULL,
  kind ENUM('record', 'drawing') NOT NULL,
  -- The passage, picture, page or score that is marked: a stimulus of the item, or the picture beside the take.
  target_id UUID NOT NULL,
  revision INT UNSIGNED NOT NULL,
  content LONGTEXT NOT NULL CHECK (JSON_VALID(content)),
  author_id UUID NOT NULL,
  created_at DATETIME(3) NOT NULL,
  superseded_at DATETIME(3) NULL,
  in_force TINYINT AS (IF(superseded_at IS NULL, 1, NULL)) PERSISTENT,
  UNIQUE KEY markups_in_force (sitting_id, item_id, kind, target_id, in_force),
  CONSTRAINT markups_sitting FOREIGN KEY (sitting_id) REFERENCES sittings (id),
  CONSTRAINT markups_author FOREIGN KEY (author_id) REFERENCES people (id)
) DEFAULT CHARSET=utf8mb4;
