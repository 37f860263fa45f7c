-- Who made an account, who is asked to join, who administers; what is known of sessions; what happened that concerns
-- safety; tries that are counted; a secret for hidden names.

ALTER TABLE people
  -- Whoever made the account; NULL for those from before this was kept, for guests and for whoever came first.
  ADD COLUMN IF NOT EXISTS made_by UUID NULL,
  ADD COLUMN IF NOT EXISTS is_admin BOOLEAN NOT NULL DEFAULT FALSE,
  -- Nobody signs in to a closed account; what it left behind stays.
  ADD COLUMN IF NOT EXISTS closed_at DATETIME(3) NULL,
  ADD COLUMN IF NOT EXISTS password_set_at DATETIME(3) NULL;
-- Whoever came first looks after this Ecoute until they name others.
UPDATE people SET is_admin = TRUE WHERE role = 'teacher' AND guest_link_id IS NULL ORDER BY created_at, id LIMIT 1;

-- Somebody is asked to join a class or a department; nothing of it holds before they have said yes.
CREATE TABLE IF NOT EXISTS invitations (
  id UUID PRIMARY KEY,
  class_id UUID NULL,
  department_id UUID NULL,
  person_id UUID NOT NULL,
  role ENUM('teacher','student','coordinator') NOT NULL,
  made_by UUID NOT NULL,
  made_at DATETIME(3) NOT NULL,
  UNIQUE KEY invitations_class (class_id, person_id),
  UNIQUE KEY invitations_department (department_id, person_id),
  KEY invitations_person (person_id),
  CONSTRAINT invitations_class_fk FOREIGN KEY (class_id) REFERENCES classes (id) ON DELETE CASCADE,
  CONSTRAINT invitations_department_fk FOREIGN KEY (department_id) REFERENCES departments (id) ON DELETE CASCADE,
  CONSTRAINT invitations_person_fk FOREIGN KEY (person_id) REFERENCES people (id) ON DELETE CASCADE
);

ALTER TABLE sessions
  ADD COLUMN IF NOT EXISTS person_id UUID AS (JSON_VALUE(data, '$.me.id')) VIRTUAL,
  ADD KEY IF NOT EXISTS sessions_person (person_id);

-- Sign-ins, passwords, codes, roles, what was taken out: who, by whom, when. Kept for a year, changed by nobody.
CREATE TABLE IF NOT EXISTS security_log (
  id BIGINT UNSIGNED AUTO_INCREMENT PRIMARY KEY,
  at DATETIME(3) NOT NULL,
  kind VARCHAR(40) NOT NULL,
  person_id UUID NULL,
  by_id UUID NULL,
  detail VARCHAR(300) NOT NULL DEFAULT '',
  KEY security_log_at (at),
  KEY security_log_person (person_id, id)
) DEFAULT CHARSET=utf8mb4;

-- Failed tries, counted for a while (rate-limiter-flexible's own columns).
CREATE TABLE IF NOT EXISTS tries (
  `key` VARCHAR(255) CHARACTER SET utf8mb4 NOT NULL PRIMARY KEY,
  points INT(9) NOT NULL DEFAULT 0,
  expire BIGINT UNSIGNED NULL
);

ALTER TABLE releases ADD COLUMN IF NOT EXISTS names_secret BINARY(32) NULL;
UPDATE releases SET names_secret = RANDOM_BYTES(32) WHERE names_secret IS NULL;
