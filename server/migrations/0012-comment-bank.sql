-- Comments that are given again and again: in topics, in their teacher's order; a topic of a department is its members'.
CREATE TABLE comment_topics (
  id UUID PRIMARY KEY,
  owner_id UUID NOT NULL,
  department_id UUID NULL,
  name VARCHAR(160) NOT NULL,
  -- Small praise instead of comments.
  praise BOOLEAN NOT NULL DEFAULT FALSE,
  position INT UNSIGNED NOT NULL,
  created_at DATETIME(3) NOT NULL,
  removed_at DATETIME(3) NULL,
  KEY comment_topics_owner (owner_id, removed_at),
  KEY comment_topics_department (department_id, removed_at),
  CONSTRAINT comment_topics_owner_fk FOREIGN KEY (owner_id) REFERENCES people (id),
  CONSTRAINT comment_topics_department_fk FOREIGN KEY (department_id) REFERENCES departments (id)
) DEFAULT CHARSET=utf8mb4;

ALTER TABLE recordings MODIFY purpose ENUM('prompt', 'take', 'note', 'reply', 'clip') NOT NULL;

CREATE TABLE bank_comments (
  id UUID PRIMARY KEY,
  topic_id UUID NOT NULL,
  words VARCHAR(2000) NOT NULL,
  link VARCHAR(500) NOT NULL,
  voice_id UUID NULL,
  position INT UNSIGNED NOT NULL,
  used INT UNSIGNED NOT NULL DEFAULT 0,
  made_by UUID NOT NULL,
  updated_at DATETIME(3) NOT NULL,
  removed_at DATETIME(3) NULL,
  KEY bank_comments_topic (topic_id, removed_at, position),
  KEY bank_comments_voice (voice_id),
  CONSTRAINT bank_comments_topic_fk FOREIGN KEY (topic_id) REFERENCES comment_topics (id),
  CONSTRAINT bank_comments_voice_fk FOREIGN KEY (voice_id) REFERENCES recordings (id),
  CONSTRAINT bank_comments_maker FOREIGN KEY (made_by) REFERENCES people (id)
) DEFAULT CHARSET=utf8mb4;

-- Praise given for an answer, in the words it had then.
CREATE TABLE praise (
  id UUID PRIMARY KEY,
  sitting_id UUID NOT NULL,
  item_id UUID NOT NULL,
  words VARCHAR(200) NOT NULL,
  given_by UUID NOT NULL,
  given_at DATETIME(3) NOT NULL,
  withdrawn_at DATETIME(3) NULL,
  KEY praise_sitting (sitting_id, withdrawn_at),
  CONSTRAINT praise_sitting_fk FOREIGN KEY (sitting_id) REFERENCES sittings (id),
  CONSTRAINT praise_giver FOREIGN KEY (given_by) REFERENCES people (id)
) DEFAULT CHARSET=utf8mb4;
