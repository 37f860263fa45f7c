-- People, classes, assessments and their frozen versions, releases, sittings, recordings, marks, jobs.
-- Instants are UTC with milliseconds. Points are integers of hundredths.

CREATE TABLE people (
  id UUID PRIMARY KEY,
  sign_in_name VARCHAR(120) NOT NULL,
  display_name VARCHAR(120) NOT NULL,
  role ENUM('teacher','student') NOT NULL,
  password_hash VARCHAR(255) NOT NULL,
  created_at DATETIME(3) NOT NULL,
  UNIQUE KEY people_sign_in_name (sign_in_name)
) DEFAULT CHARSET=utf8mb4;

CREATE TABLE sessions (
  session_id VARCHAR(128) CHARACTER SET utf8mb4 COLLATE utf8mb4_bin NOT NULL PRIMARY KEY,
  expires INT UNSIGNED NOT NULL,
  data MEDIUMTEXT CHARACTER SET utf8mb4 COLLATE utf8mb4_bin,
  KEY sessions_expires (expires)
);

CREATE TABLE classes (
  id UUID PRIMARY KEY,
  name VARCHAR(160) NOT NULL,
  subject ENUM('language','music') NOT NULL,
  created_at DATETIME(3) NOT NULL
) DEFAULT CHARSET=utf8mb4;

CREATE TABLE class_members (
  class_id UUID NOT NULL,
  person_id UUID NOT NULL,
  role ENUM('teacher','student') NOT NULL,
  PRIMARY KEY (class_id, person_id),
  KEY class_members_person (person_id, role, class_id),
  CONSTRAINT class_members_class FOREIGN KEY (class_id) REFERENCES classes (id),
  CONSTRAINT class_members_person_fk FOREIGN KEY (person_id) REFERENCES people (id)
);

-- Every sound: prompts and takes. The original stays as it came; the playable copy and the peaks are made later.
CREATE TABLE recordings (
  id UUID PRIMARY KEY,
  owner_id UUID NOT NULL,
  purpose ENUM('prompt','take') NOT NULL,
  assessment_id UUID NULL,
  state ENUM('arriving','checking','stored','refused') NOT NULL,
  problem VARCHAR(40) NULL,
  file_name VARCHAR(255) NULL,
  announced_type VARCHAR(120) NOT NULL,
  media_type VARCHAR(120) NULL,
  size_bytes BIGINT UNSIGNED NULL,
  sha256 CHAR(64) CHARACTER SET ascii NULL,
  duration_ms INT UNSIGNED NULL,
  limit_ms INT UNSIGNED NOT NULL,
  peak_dbfs FLOAT NULL,
  playable_at DATETIME(3) NULL,
  created_at DATETIME(3) NOT NULL,
  KEY recordings_owner (owner_id, created_at),
  CONSTRAINT recordings_owner_fk FOREIGN KEY (owner_id) REFERENCES people (id)
) DEFAULT CHARSET=utf8mb4;

CREATE TABLE assessments (
  id UUID PRIMARY KEY,
  owner_id UUID NOT NULL,
  revision INT UNSIGNED NOT NULL,
  content LONGTEXT NOT NULL CHECK (JSON_VALID(content)),
  created_at DATETIME(3) NOT NULL,
  updated_at DATETIME(3) NOT NULL,
  KEY assessments_owner (owner_id, updated_at),
  CONSTRAINT assessments_owner_fk FOREIGN KEY (owner_id) REFERENCES people (id)
) DEFAULT CHARSET=utf8mb4;

-- Frozen when released; never changed afterwards.
CREATE TABLE assessment_versions (
  id UUID PRIMARY KEY,
  assessment_id UUID NOT NULL,
  revision INT UNSIGNED NOT NULL,
  content LONGTEXT NOT NULL CHECK (JSON_VALID(content)),
  frozen_at DATETIME(3) NOT NULL,
  UNIQUE KEY assessment_versions_revision (assessment_id, revision),
  CONSTRAINT assessment_versions_assessment FOREIGN KEY (assessment_id) REFERENCES assessments (id)
) DEFAULT CHARSET=utf8mb4;

-- Which sounds a frozen version speaks with: decides who may hear a prompt.
CREATE TABLE version_prompts (
  version_id UUID NOT NULL,
  recording_id UUID NOT NULL,
  PRIMARY KEY (version_id, recording_id),
  KEY version_prompts_recording (recording_id),
  CONSTRAINT version_prompts_version FOREIGN KEY (version_id) REFERENCES assessment_versions (id),
  CONSTRAINT version_prompts_recording_fk FOREIGN KEY (recording_id) REFERENCES recordings (id)
);

CREATE TABLE releases (
  id UUID PRIMARY KEY,
  assessment_id UUID NOT NULL,
  version_id UUID NOT NULL,
  class_id UUID NOT NULL,
  opens_at DATETIME(3) NOT NULL,
  due_at DATETIME(3) NOT NULL,
  late_accepted BOOLEAN NOT NULL,
  note VARCHAR(300) NOT NULL,
  released_by UUID NOT NULL,
  created_at DATETIME(3) NOT NULL,
  KEY releases_class (class_id, due_at),
  KEY releases_version (version_id),
  KEY releases_assessment (assessment_id),
  CONSTRAINT releases_version_fk FOREIGN KEY (version_id) REFERENCES assessment_versions (id),
  CONSTRAINT releases_class_fk FOREIGN KEY (class_id) REFERENCES classes (id)
) DEFAULT CHARSET=utf8mb4;

CREATE TABLE sittings (
  id UUID PRIMARY KEY,
  release_id UUID NOT NULL,
  student_id UUID NOT NULL,
  number INT UNSIGNED NOT NULL,
  began_at DATETIME(3) NOT NULL,
  handed_in_at DATETIME(3) NULL,
  receipt LONGTEXT NULL,
  returned_at DATETIME(3) NULL,
  returned_by UUID NULL,
  UNIQUE KEY sittings_one (release_id, student_id, number),
  KEY sittings_student (student_id, returned_at),
  CONSTRAINT sittings_release FOREIGN KEY (release_id) REFERENCES releases (id),
  CONSTRAINT sittings_student_fk FOREIGN KEY (student_id) REFERENCES people (id)
) DEFAULT CHARSET=utf8mb4;

-- The account of a sitting, kept as it happened.
CREATE TABLE sitting_events (
  id UUID PRIMARY KEY,
  sitting_id UUID NOT NULL,
  item_id UUID NULL,
  kind VARCHAR(40) NOT NULL,
  at DATETIME(3) NOT NULL,
  received_at DATETIME(3) NOT NULL,
  KEY sitting_events_sitting (sitting_id, at),
  CONSTRAINT sitting_events_sitting_fk FOREIGN KEY (sitting_id) REFERENCES sittings (id)
);

-- A take is a recording in its place: same id.
CREATE TABLE takes (
  id UUID PRIMARY KEY,
  sitting_id UUID NOT NULL,
  item_id UUID NOT NULL,
  number INT UNSIGNED NOT NULL,
  began_at DATETIME(3) NOT NULL,
  chosen_at DATETIME(3) NULL,
  UNIQUE KEY takes_number (sitting_id, item_id, number),
  CONSTRAINT takes_recording FOREIGN KEY (id) REFERENCES recordings (id),
  CONSTRAINT takes_sitting FOREIGN KEY (sitting_id) REFERENCES sittings (id)
);

-- A finished mark is never changed: a later one supersedes it. `in_force` is 1 for the one that holds, else NULL.
CREATE TABLE marks (
  id UUID PRIMARY KEY,
  sitting_id UUID NOT NULL,
  item_id UUID NOT NULL,
  revision INT UNSIGNED NOT NULL,
  points_hundredths INT UNSIGNED NULL,
  comment TEXT NOT NULL,
  finished_at DATETIME(3) NULL,
  author_id UUID NOT NULL,
  created_at DATETIME(3) NOT NULL,
  updated_at DATETIME(3) NOT NULL,
  superseded_at DATETIME(3) NULL,
  in_force TINYINT AS (IF(superseded_at IS NULL, 1, NULL)) PERSISTENT,
  UNIQUE KEY marks_in_force (sitting_id, item_id, in_force),
  CONSTRAINT marks_sitting FOREIGN KEY (sitting_id) REFERENCES sittings (id),
  CONSTRAINT marks_author FOREIGN KEY (author_id) REFERENCES people (id)
) DEFAULT CHARSET=utf8mb4;

CREATE TABLE jobs (
  id BIGINT UNSIGNED AUTO_INCREMENT PRIMARY KEY,
  kind VARCHAR(40) NOT NULL,
  payload LONGTEXT NOT NULL,
  state ENUM('waiting','running','failed') NOT NULL DEFAULT 'waiting',
  attempts INT UNSIGNED NOT NULL DEFAULT 0,
  run_after DATETIME(3) NOT NULL,
  locked_until DATETIME(3) NULL,
  last_error TEXT NULL,
  created_at DATETIME(3) NOT NULL,
  KEY jobs_next (state, run_after),
  KEY jobs_locked (state, locked_until)
) DEFAULT CHARSET=utf8mb4;
