-- What a student is asked to do with feedback. One in force for an item, or for the whole sitting (no item).
CREATE TABLE asks (
  id UUID PRIMARY KEY,
  sitting_id UUID NOT NULL,
  item_id UUID NULL,
  kind ENUM('acknowledge', 'reply', 'change', 'recordAgain') NOT NULL,
  words VARCHAR(1000) NOT NULL,
  asked_by UUID NOT NULL,
  asked_at DATETIME(3) NOT NULL,
  withdrawn_at DATETIME(3) NULL,
  answered_at DATETIME(3) NULL,
  KEY asks_sitting (sitting_id, withdrawn_at),
  CONSTRAINT asks_sitting_fk FOREIGN KEY (sitting_id) REFERENCES sittings (id),
  CONSTRAINT asks_asker FOREIGN KEY (asked_by) REFERENCES people (id)
) DEFAULT CHARSET=utf8mb4;

-- The exchange about an answer: what student and teachers say to each other after the return.
CREATE TABLE replies (
  id UUID PRIMARY KEY,
  sitting_id UUID NOT NULL,
  item_id UUID NULL,
  ask_id UUID NULL,
  author_id UUID NOT NULL,
  words VARCHAR(4000) NOT NULL,
  voice_id UUID NULL,
  made_at DATETIME(3) NOT NULL,
  KEY replies_sitting (sitting_id, made_at),
  KEY replies_voice (voice_id),
  CONSTRAINT replies_sitting_fk FOREIGN KEY (sitting_id) REFERENCES sittings (id),
  CONSTRAINT replies_ask FOREIGN KEY (ask_id) REFERENCES asks (id),
  CONSTRAINT replies_author FOREIGN KEY (author_id) REFERENCES people (id),
  CONSTRAINT replies_voice_fk FOREIGN KEY (voice_id) REFERENCES recordings (id)
) DEFAULT CHARSET=utf8mb4;
ALTER TABLE recordings MODIFY purpose ENUM('prompt', 'take', 'note', 'reply') NOT NULL;

-- When a student first heard what came back on an item.
CREATE TABLE hearings_of_feedback (
  sitting_id UUID NOT NULL,
  item_id UUID NOT NULL,
  heard_at DATETIME(3) NOT NULL,
  PRIMARY KEY (sitting_id, item_id),
  CONSTRAINT hearings_of_feedback_sitting FOREIGN KEY (sitting_id) REFERENCES sittings (id)
);

-- What lists count of a returned sitting: how many answers it asks for, and how many of these are there.
ALTER TABLE sittings
  ADD asked SMALLINT UNSIGNED NOT NULL DEFAULT 0,
  ADD replied SMALLINT UNSIGNED NOT NULL DEFAULT 0;
