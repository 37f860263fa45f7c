-- Where families are written to: addresses belong to a student, each with a language.
ALTER TABLE people ADD COLUMN IF NOT EXISTS is_adult BOOLEAN NOT NULL DEFAULT FALSE;

CREATE TABLE IF NOT EXISTS family_addresses (
  id UUID PRIMARY KEY,
  student_id UUID NOT NULL,
  email VARCHAR(254) NOT NULL,
  -- Who it is, in a word or two.
  name VARCHAR(120) NOT NULL DEFAULT '',
  language VARCHAR(8) NOT NULL,
  made_at DATETIME(3) NOT NULL,
  made_by UUID NULL,
  -- No longer written to. What the student or the family themselves ended, no teacher and no list begins again.
  ended_at DATETIME(3) NULL,
  ended_by ENUM('teacher', 'student', 'family') NULL,
  UNIQUE KEY family_addresses_student (student_id, email),
  CONSTRAINT family_addresses_student_fk FOREIGN KEY (student_id) REFERENCES people (id) ON DELETE CASCADE
) DEFAULT CHARSET=utf8mb4;

-- What a teacher says to a class, a group or single students, and to their families.
ALTER TABLE recordings
  MODIFY COLUMN purpose ENUM('prompt', 'take', 'note', 'reply', 'clip', 'portfolio', 'message') NOT NULL;

CREATE TABLE IF NOT EXISTS spoken_messages (
  id UUID PRIMARY KEY,
  class_id UUID NOT NULL,
  -- Whom it was meant for, as it was chosen; who it went to stands in the recipients.
  group_id UUID NULL,
  is_picked BOOLEAN NOT NULL,
  author_id UUID NOT NULL,
  voice_id UUID NOT NULL,
  title VARCHAR(160) NOT NULL,
  words TEXT NOT NULL,
  made_at DATETIME(3) NOT NULL,
  -- When its sound stood: from then on it is heard, and mailed.
  sent_at DATETIME(3) NULL,
  taken_back_at DATETIME(3) NULL,
  KEY spoken_messages_class (class_id, made_at),
  UNIQUE KEY spoken_messages_voice (voice_id),
  CONSTRAINT spoken_messages_class_fk FOREIGN KEY (class_id) REFERENCES classes (id) ON DELETE CASCADE,
  CONSTRAINT spoken_messages_author_fk FOREIGN KEY (author_id) REFERENCES people (id) ON DELETE CASCADE
) DEFAULT CHARSET=utf8mb4;

-- Who it went to. The id of each is the address at which they hear it.
CREATE TABLE IF NOT EXISTS spoken_message_recipients (
  id UUID PRIMARY KEY,
  message_id UUID NOT NULL,
  student_id UUID NOT NULL,
  -- The address of the student's family; NULL for the student.
  family_id UUID NULL,
  mailed_at DATETIME(3) NULL,
  heard_at DATETIME(3) NULL,
  ended_at DATETIME(3) NULL,
  KEY spoken_message_recipients_message (message_id),
  KEY spoken_message_recipients_student (student_id, family_id),
  KEY spoken_message_recipients_family (family_id),
  CONSTRAINT spoken_message_recipients_message_fk FOREIGN KEY (message_id) REFERENCES spoken_messages (id) ON DELETE CASCADE,
  CONSTRAINT spoken_message_recipients_student_fk FOREIGN KEY (student_id) REFERENCES people (id) ON DELETE CASCADE,
  CONSTRAINT spoken_message_recipients_family_fk FOREIGN KEY (family_id) REFERENCES family_addresses (id) ON DELETE CASCADE
) DEFAULT CHARSET=utf8mb4;

-- Mail as it is seen in the simulated mailbox, with its pictures in it.
ALTER TABLE mailbox_messages ADD COLUMN IF NOT EXISTS html MEDIUMTEXT NULL;
