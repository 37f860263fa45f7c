-- Classes with groups, access arrangements and first codes; releases to whom and when, with exceptions for single
-- students; the facts of a sitting that lists count; what has changed, for pages that are open.

ALTER TABLE people
  MODIFY password_hash VARCHAR(255) NULL,
  ADD COLUMN email VARCHAR(254) NULL,
  -- Who this is in the school's own system (a sourcedId of OneRoster).
  ADD COLUMN external_id VARCHAR(120) NULL,
  ADD UNIQUE KEY people_external (external_id),
  ADD KEY people_email (email);

ALTER TABLE classes
  ADD COLUMN external_id VARCHAR(120) NULL,
  ADD UNIQUE KEY classes_external (external_id);

ALTER TABLE class_members MODIFY role ENUM('teacher','student','coordinator') NOT NULL;

CREATE TABLE class_groups (
  id UUID PRIMARY KEY,
  class_id UUID NOT NULL,
  name VARCHAR(160) NOT NULL,
  created_at DATETIME(3) NOT NULL,
  UNIQUE KEY class_groups_name (class_id, name),
  CONSTRAINT class_groups_class FOREIGN KEY (class_id) REFERENCES classes (id)
) DEFAULT CHARSET=utf8mb4;

CREATE TABLE class_group_members (
  group_id UUID NOT NULL,
  person_id UUID NOT NULL,
  PRIMARY KEY (group_id, person_id),
  KEY class_group_members_person (person_id),
  CONSTRAINT class_group_members_group FOREIGN KEY (group_id) REFERENCES class_groups (id) ON DELETE CASCADE,
  CONSTRAINT class_group_members_person_fk FOREIGN KEY (person_id) REFERENCES people (id)
);

-- What a student's needs change in every sitting from now on, as JSON (core/timing/arrangements).
CREATE TABLE arrangements (
  person_id UUID PRIMARY KEY,
  arrangement LONGTEXT NOT NULL CHECK (JSON_VALID(arrangement)),
  set_by UUID NOT NULL,
  set_at DATETIME(3) NOT NULL,
  CONSTRAINT arrangements_person FOREIGN KEY (person_id) REFERENCES people (id)
) DEFAULT CHARSET=utf8mb4;

-- One-time codes for a first sign-in or a forgotten password. Only the hash of a code is kept.
CREATE TABLE first_codes (
  person_id UUID PRIMARY KEY,
  code_hash CHAR(64) CHARACTER SET ascii NOT NULL,
  made_by UUID NOT NULL,
  made_at DATETIME(3) NOT NULL,
  expires_at DATETIME(3) NOT NULL,
  UNIQUE KEY first_codes_hash (code_hash),
  CONSTRAINT first_codes_person FOREIGN KEY (person_id) REFERENCES people (id)
);

-- Title and items' lengths of a version, for lists; the whole content where this is not made yet.
ALTER TABLE assessment_versions ADD COLUMN outline LONGTEXT NULL CHECK (outline IS NULL OR JSON_VALID(outline));

ALTER TABLE releases
  ADD COLUMN audience ENUM('class','group','students','link') NOT NULL DEFAULT 'class' AFTER class_id,
  ADD COLUMN group_id UUID NULL AFTER audience,
  ADD COLUMN closes_at DATETIME(3) NULL AFTER due_at,
  ADD COLUMN hidden BOOLEAN NOT NULL DEFAULT FALSE,
  ADD COLUMN sittings_allowed TINYINT UNSIGNED NOT NULL DEFAULT 1,
  ADD COLUMN heard_by ENUM('nobody','class') NOT NULL DEFAULT 'nobody',
  ADD COLUMN scores_held BOOLEAN NOT NULL DEFAULT FALSE,
  ADD COLUMN notify BOOLEAN NOT NULL DEFAULT FALSE,
  ADD COLUMN time_zone VARCHAR(60) NOT NULL DEFAULT 'UTC',
  ADD COLUMN series_id UUID NULL,
  ADD KEY releases_class_opens (class_id, opens_at),
  ADD KEY releases_group (group_id);

-- Who a release is for, and what a teacher granted single students of it.
CREATE TABLE participants (
  release_id UUID NOT NULL,
  person_id UUID NOT NULL,
  due_at DATETIME(3) NULL,
  excused BOOLEAN NOT NULL DEFAULT FALSE,
  extra_sittings TINYINT UNSIGNED NOT NULL DEFAULT 0,
  granted_by UUID NULL,
  granted_at DATETIME(3) NULL,
  reminded_at DATETIME(3) NULL,
  PRIMARY KEY (release_id, person_id),
  KEY participants_person (person_id, release_id),
  CONSTRAINT participants_release FOREIGN KEY (release_id) REFERENCES releases (id),
  CONSTRAINT participants_person_fk FOREIGN KEY (person_id) REFERENCES people (id)
);
INSERT INTO participants (release_id, person_id)
  SELECT r.id, m.person_id FROM releases r JOIN class_members m ON m.class_id = r.class_id AND m.role = 'student';
INSERT IGNORE INTO participants (release_id, person_id) SELECT release_id, student_id FROM sittings;

-- Facts that lists count: NULL until they are worked out. The arrangement is the one that the sitting began with.
ALTER TABLE sittings
  ADD COLUMN arrangement LONGTEXT NULL CHECK (arrangement IS NULL OR JSON_VALID(arrangement)),
  ADD COLUMN answered SMALLINT UNSIGNED NULL,
  ADD COLUMN finished SMALLINT UNSIGNED NULL,
  ADD COLUMN waiting_ms INT UNSIGNED NULL,
  ADD KEY sittings_not_returned (release_id, returned_at, handed_in_at);

-- What has changed, for whom: read by every server for the pages that are open on it, and forgotten soon.
CREATE TABLE changes (
  id BIGINT UNSIGNED AUTO_INCREMENT PRIMARY KEY,
  kind VARCHAR(20) NOT NULL,
  subject_id UUID NULL,
  class_id UUID NULL,
  person_id UUID NULL,
  at DATETIME(3) NOT NULL
);

-- Days without school, for everybody.
CREATE TABLE holidays (
  id UUID PRIMARY KEY,
  name VARCHAR(160) NOT NULL,
  first_on DATE NOT NULL,
  last_on DATE NOT NULL,
  made_by UUID NOT NULL,
  KEY holidays_last (last_on)
) DEFAULT CHARSET=utf8mb4;

-- A list on its way in: read, planned and shown; nothing of it stands before it is confirmed.
CREATE TABLE imports (
  id UUID PRIMARY KEY,
  owner_id UUID NOT NULL,
  class_id UUID NULL,
  kind ENUM('list','oneRoster') NOT NULL,
  file_name VARCHAR(255) NOT NULL,
  -- What was read: cells by row of a list, files of a OneRoster package; as JSON.
  content LONGTEXT NOT NULL CHECK (JSON_VALID(content)),
  choices LONGTEXT NOT NULL CHECK (JSON_VALID(choices)),
  state ENUM('planned','waiting','running','cancelled','done','failed') NOT NULL,
  done INT UNSIGNED NOT NULL DEFAULT 0,
  total INT UNSIGNED NOT NULL DEFAULT 0,
  report LONGTEXT NULL CHECK (report IS NULL OR JSON_VALID(report)),
  created_at DATETIME(3) NOT NULL,
  KEY imports_owner (owner_id, created_at),
  CONSTRAINT imports_owner_fk FOREIGN KEY (owner_id) REFERENCES people (id)
) DEFAULT CHARSET=utf8mb4;

-- An address by which a person's own calendar program reads what is due. It is revoked by its removal.
CREATE TABLE calendar_feeds (
  id UUID PRIMARY KEY,
  person_id UUID NOT NULL,
  made_at DATETIME(3) NOT NULL,
  UNIQUE KEY calendar_feeds_person (person_id),
  CONSTRAINT calendar_feeds_person_fk FOREIGN KEY (person_id) REFERENCES people (id)
);

-- Told by mail that it is open.
ALTER TABLE releases ADD COLUMN announced_at DATETIME(3) NULL;

-- A way in for guests. Closed by a time, by hand, or when as many came as it is for.
CREATE TABLE release_links (
  id UUID PRIMARY KEY,
  release_id UUID NOT NULL,
  code VARCHAR(40) CHARACTER SET ascii NOT NULL,
  class_code VARCHAR(40) NULL,
  most_guests INT UNSIGNED NULL,
  keep_days INT UNSIGNED NOT NULL,
  closes_at DATETIME(3) NULL,
  closed_at DATETIME(3) NULL,
  made_by UUID NOT NULL,
  made_at DATETIME(3) NOT NULL,
  UNIQUE KEY release_links_code (code),
  KEY release_links_release (release_id),
  CONSTRAINT release_links_release_fk FOREIGN KEY (release_id) REFERENCES releases (id)
) DEFAULT CHARSET=utf8mb4;

-- A guest is a student without a sign-in, who came by a link and returns by an address of their own.
ALTER TABLE people
  ADD COLUMN guest_link_id UUID NULL,
  ADD COLUMN guest_token UUID NULL,
  ADD COLUMN same_as UUID NULL,
  ADD UNIQUE KEY people_guest_token (guest_token),
  ADD KEY people_guest_link (guest_link_id);

-- Whose a sitting was before a teacher said who the guest is.
ALTER TABLE sittings ADD COLUMN was_student_id UUID NULL;

-- What the simulated mailbox of the demo received.
CREATE TABLE mailbox_messages (
  id BIGINT UNSIGNED AUTO_INCREMENT PRIMARY KEY,
  to_address VARCHAR(320) NOT NULL,
  subject VARCHAR(400) NOT NULL,
  body MEDIUMTEXT NOT NULL,
  received_at DATETIME(3) NOT NULL
) DEFAULT CHARSET=utf8mb4;
