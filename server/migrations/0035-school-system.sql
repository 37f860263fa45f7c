-- The school's own system, to which scores are handed over: where it is, and as whom Ecoute comes.
CREATE TABLE IF NOT EXISTS school_system (
  id TINYINT UNSIGNED PRIMARY KEY,
  base_url VARCHAR(500) NOT NULL,
  token_url VARCHAR(500) NOT NULL,
  client_id VARCHAR(200) NOT NULL,
  -- Locked with the key of this Ecoute; never given out again.
  secret VARBINARY(1000) NOT NULL,
  changed_by UUID NOT NULL,
  changed_at DATETIME(3) NOT NULL,
  CONSTRAINT school_system_changed_by FOREIGN KEY (changed_by) REFERENCES people (id)
) DEFAULT CHARSET=utf8mb4;

-- Which class of the school's a class is, and who is who in it.
CREATE TABLE IF NOT EXISTS school_classes (
  class_id UUID PRIMARY KEY,
  sourced_id VARCHAR(255) CHARACTER SET utf8mb4 COLLATE utf8mb4_bin NOT NULL,
  title VARCHAR(255) NOT NULL,
  UNIQUE KEY school_classes_sourced (sourced_id),
  CONSTRAINT school_classes_class FOREIGN KEY (class_id) REFERENCES classes (id) ON DELETE CASCADE
) DEFAULT CHARSET=utf8mb4;
CREATE TABLE IF NOT EXISTS school_people (
  class_id UUID NOT NULL,
  person_id UUID NOT NULL,
  sourced_id VARCHAR(255) CHARACTER SET utf8mb4 COLLATE utf8mb4_bin NOT NULL,
  name VARCHAR(255) NOT NULL,
  PRIMARY KEY (class_id, person_id),
  UNIQUE KEY school_people_sourced (class_id, sourced_id),
  KEY school_people_person (person_id),
  CONSTRAINT school_people_class FOREIGN KEY (class_id) REFERENCES classes (id) ON DELETE CASCADE,
  CONSTRAINT school_people_person_fk FOREIGN KEY (person_id) REFERENCES people (id) ON DELETE CASCADE
) DEFAULT CHARSET=utf8mb4;

-- What the school's system has of a class, as it was taken there last.
CREATE TABLE IF NOT EXISTS school_records (
  class_id UUID NOT NULL,
  kind ENUM('category', 'lineItem', 'result') NOT NULL,
  sourced_id VARCHAR(255) CHARACTER SET utf8mb4 COLLATE utf8mb4_bin NOT NULL,
  body LONGTEXT NOT NULL CHECK (JSON_VALID(body)),
  taken_at DATETIME(3) NOT NULL,
  PRIMARY KEY (class_id, kind, sourced_id),
  CONSTRAINT school_records_class FOREIGN KEY (class_id) REFERENCES classes (id) ON DELETE CASCADE
) DEFAULT CHARSET=utf8mb4;

-- One handing over: what was looked at and sent, by whom, and what came of each step.
CREATE TABLE IF NOT EXISTS handings_over (
  id UUID PRIMARY KEY,
  class_id UUID NOT NULL,
  by_id UUID NOT NULL,
  state ENUM('waiting', 'running', 'done', 'stopped', 'cancelled') NOT NULL,
  problem VARCHAR(500) NULL,
  made_at DATETIME(3) NOT NULL,
  ended_at DATETIME(3) NULL,
  KEY handings_over_class (class_id, made_at),
  CONSTRAINT handings_over_class_fk FOREIGN KEY (class_id) REFERENCES classes (id) ON DELETE CASCADE,
  CONSTRAINT handings_over_by FOREIGN KEY (by_id) REFERENCES people (id)
) DEFAULT CHARSET=utf8mb4;
CREATE TABLE IF NOT EXISTS handing_steps (
  handing_id UUID NOT NULL,
  place INT UNSIGNED NOT NULL,
  act ENUM('put', 'remove') NOT NULL,
  kind ENUM('category', 'lineItem', 'result') NOT NULL,
  sourced_id VARCHAR(255) CHARACTER SET utf8mb4 COLLATE utf8mb4_bin NOT NULL,
  body LONGTEXT NULL CHECK (body IS NULL OR JSON_VALID(body)),
  before_body LONGTEXT NULL CHECK (before_body IS NULL OR JSON_VALID(before_body)),
  -- withdrawn: it changed between the look and the sending, so it was not sent.
  state ENUM('waiting', 'taken', 'refused', 'withdrawn') NOT NULL,
  problem VARCHAR(500) NULL,
  at DATETIME(3) NULL,
  PRIMARY KEY (handing_id, place),
  KEY handing_steps_state (handing_id, state, place),
  CONSTRAINT handing_steps_handing FOREIGN KEY (handing_id) REFERENCES handings_over (id) ON DELETE CASCADE
) DEFAULT CHARSET=utf8mb4;
