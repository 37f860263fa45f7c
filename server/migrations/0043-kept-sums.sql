-- Sums that whoever looks after an Ecoute sees at once, however many recordings and people there are. What changes them is noted by the
-- database itself, so that no statement forgets it, in rows of their own, so that nobody who records waits for anybody; they are
-- added to the sums later.
CREATE TABLE IF NOT EXISTS kept_by_purpose (
  purpose VARCHAR(40) CHARACTER SET ascii NOT NULL PRIMARY KEY,
  bytes BIGINT NOT NULL
) DEFAULT CHARSET=utf8mb4;

CREATE TABLE IF NOT EXISTS kept_by_owner (
  owner_id UUID NOT NULL PRIMARY KEY,
  bytes BIGINT NOT NULL,
  KEY kept_by_owner_bytes (bytes)
) DEFAULT CHARSET=utf8mb4;

CREATE TABLE IF NOT EXISTS kept_changes (
  id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  owner_id UUID NOT NULL,
  purpose VARCHAR(40) CHARACTER SET ascii NOT NULL,
  bytes BIGINT NOT NULL
) DEFAULT CHARSET=utf8mb4;

-- Kinds of accounts: student, teacher, guest, each as it is open or closed.
CREATE TABLE IF NOT EXISTS people_counted (
  kind VARCHAR(20) CHARACTER SET ascii NOT NULL,
  is_closed BOOLEAN NOT NULL,
  people BIGINT NOT NULL,
  PRIMARY KEY (kind, is_closed)
) DEFAULT CHARSET=utf8mb4;

CREATE TABLE IF NOT EXISTS people_changes (
  id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  kind VARCHAR(20) CHARACTER SET ascii NOT NULL,
  is_closed BOOLEAN NOT NULL,
  people BIGINT NOT NULL
) DEFAULT CHARSET=utf8mb4;

CREATE OR REPLACE TRIGGER recording_kept AFTER INSERT ON recordings FOR EACH ROW
  INSERT INTO kept_changes (owner_id, purpose, bytes)
  SELECT NEW.owner_id, NEW.purpose, NEW.size_bytes FROM DUAL WHERE NEW.size_bytes > 0;

CREATE OR REPLACE TRIGGER recording_kept_otherwise AFTER UPDATE ON recordings FOR EACH ROW
  INSERT INTO kept_changes (owner_id, purpose, bytes)
  SELECT OLD.owner_id, OLD.purpose, -CAST(OLD.size_bytes AS SIGNED) FROM DUAL
  WHERE OLD.size_bytes > 0
    AND NOT (NEW.size_bytes <=> OLD.size_bytes AND NEW.owner_id = OLD.owner_id AND NEW.purpose = OLD.purpose)
  UNION ALL
  SELECT NEW.owner_id, NEW.purpose, NEW.size_bytes FROM DUAL
  WHERE NEW.size_bytes > 0
    AND NOT (NEW.size_bytes <=> OLD.size_bytes AND NEW.owner_id = OLD.owner_id AND NEW.purpose = OLD.purpose);

CREATE OR REPLACE TRIGGER recording_kept_no_more AFTER DELETE ON recordings FOR EACH ROW
  INSERT INTO kept_changes (owner_id, purpose, bytes)
  SELECT OLD.owner_id, OLD.purpose, -CAST(OLD.size_bytes AS SIGNED) FROM DUAL WHERE OLD.size_bytes > 0;

CREATE OR REPLACE TRIGGER person_counted AFTER INSERT ON people FOR EACH ROW
  INSERT INTO people_changes (kind, is_closed, people)
  VALUES (IF(NEW.guest_link_id IS NULL, NEW.role, 'guest'), NEW.closed_at IS NOT NULL, 1);

CREATE OR REPLACE TRIGGER person_counted_otherwise AFTER UPDATE ON people FOR EACH ROW
  INSERT INTO people_changes (kind, is_closed, people)
  SELECT IF(OLD.guest_link_id IS NULL, OLD.role, 'guest'), OLD.closed_at IS NOT NULL, -1 FROM DUAL
  WHERE NOT (NEW.role = OLD.role AND (NEW.guest_link_id IS NULL) = (OLD.guest_link_id IS NULL)
    AND (NEW.closed_at IS NULL) = (OLD.closed_at IS NULL))
  UNION ALL
  SELECT IF(NEW.guest_link_id IS NULL, NEW.role, 'guest'), NEW.closed_at IS NOT NULL, 1 FROM DUAL
  WHERE NOT (NEW.role = OLD.role AND (NEW.guest_link_id IS NULL) = (OLD.guest_link_id IS NULL)
    AND (NEW.closed_at IS NULL) = (OLD.closed_at IS NULL));

CREATE OR REPLACE TRIGGER person_counted_no_more AFTER DELETE ON people FOR EACH ROW
  INSERT INTO people_changes (kind, is_closed, people)
  VALUES (IF(OLD.guest_link_id IS NULL, OLD.role, 'guest'), OLD.closed_at IS NOT NULL, -1);

-- What was there before.
REPLACE INTO kept_by_purpose (purpose, bytes)
  SELECT purpose, SUM(COALESCE(size_bytes, 0)) FROM recordings GROUP BY 1;

REPLACE INTO kept_by_owner (owner_id, bytes) SELECT owner_id, SUM(COALESCE(size_bytes, 0)) FROM recordings GROUP BY 1;

REPLACE INTO people_counted (kind, is_closed, people)
  SELECT IF(guest_link_id IS NULL, role, 'guest'), closed_at IS NOT NULL, COUNT(*) FROM people GROUP BY 1, 2;
