-- Answers that some people give as one: on one device, or in turns on their own. Each has the recording in a sitting of their own, as
-- a take that names the joint answer.
CREATE TABLE IF NOT EXISTS joint_answers (
  -- On one device: the take that was recorded. In turns: chosen by the browser that begins.
  id UUID PRIMARY KEY,
  release_id UUID NOT NULL,
  item_id UUID NOT NULL,
  way ENUM('oneDevice', 'turns') NOT NULL,
  -- Whose device it was, or who begins.
  lead_id UUID NOT NULL,
  turns_each TINYINT UNSIGNED NOT NULL DEFAULT 1,
  made_at DATETIME(3) NOT NULL,
  -- In turns: nobody speaks any more, and since when the turns are one recording.
  ended_at DATETIME(3) NULL,
  joined_at DATETIME(3) NULL,
  -- Who speaks from when to when in it (JSON).
  stretches TEXT NULL,
  -- Each is scored for themselves.
  apart BOOLEAN NOT NULL DEFAULT FALSE,
  KEY joint_answers_release (release_id, item_id),
  CONSTRAINT joint_answers_release_fk FOREIGN KEY (release_id) REFERENCES releases (id) ON DELETE CASCADE,
  CONSTRAINT joint_answers_lead_fk FOREIGN KEY (lead_id) REFERENCES people (id) ON DELETE CASCADE
);

CREATE TABLE IF NOT EXISTS joint_people (
  joint_id UUID NOT NULL,
  person_id UUID NOT NULL,
  -- The order in which they speak, from 0.
  place TINYINT UNSIGNED NOT NULL,
  -- The recording in their own sitting, once it is there.
  take_id UUID NULL,
  -- Said that they were not there.
  left_at DATETIME(3) NULL,
  -- Why it could not become theirs.
  missed ENUM('handedIn', 'gone') NULL,
  PRIMARY KEY (joint_id, person_id),
  KEY joint_people_person (person_id),
  KEY joint_people_take (take_id),
  CONSTRAINT joint_people_joint_fk FOREIGN KEY (joint_id) REFERENCES joint_answers (id) ON DELETE CASCADE,
  CONSTRAINT joint_people_person_fk FOREIGN KEY (person_id) REFERENCES people (id) ON DELETE CASCADE
);

CREATE TABLE IF NOT EXISTS joint_turns (
  -- The recording of the turn.
  id UUID PRIMARY KEY,
  joint_id UUID NOT NULL,
  person_id UUID NOT NULL,
  number SMALLINT UNSIGNED NOT NULL,
  given_at DATETIME(3) NOT NULL,
  UNIQUE KEY joint_turns_number (joint_id, number),
  CONSTRAINT joint_turns_joint_fk FOREIGN KEY (joint_id) REFERENCES joint_answers (id) ON DELETE CASCADE
);

ALTER TABLE takes ADD COLUMN IF NOT EXISTS joint_id UUID NULL, ADD KEY IF NOT EXISTS takes_joint (joint_id);
ALTER TABLE recordings
  MODIFY COLUMN purpose ENUM('prompt', 'take', 'note', 'reply', 'clip', 'portfolio', 'message', 'turn') NOT NULL;
