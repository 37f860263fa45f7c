-- What was remembered of who may hear what holds no longer: each row says of whom, or of what, it is to be asked again. A row
-- with neither means all. Written by the database itself, so that no statement forgets it.
CREATE TABLE IF NOT EXISTS right_changes (
  id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  session_id VARCHAR(128) CHARACTER SET utf8mb4 COLLATE utf8mb4_bin NULL,
  person_id UUID NULL,
  recording_id UUID NULL,
  at DATETIME(3) NOT NULL DEFAULT UTC_TIMESTAMP(3),
  KEY right_changes_at (at)
) DEFAULT CHARSET=utf8mb4;

CREATE OR REPLACE TRIGGER session_ended AFTER DELETE ON sessions FOR EACH ROW
  INSERT INTO right_changes (session_id) VALUES (OLD.session_id);

CREATE OR REPLACE TRIGGER session_changed AFTER UPDATE ON sessions FOR EACH ROW
  INSERT INTO right_changes (session_id) SELECT OLD.session_id FROM DUAL
  WHERE NOT (JSON_VALUE(NEW.data, '$.me.id') <=> JSON_VALUE(OLD.data, '$.me.id') AND NEW.session_id = OLD.session_id
    AND NEW.expires >= OLD.expires);

CREATE OR REPLACE TRIGGER member_gone AFTER DELETE ON class_members FOR EACH ROW
  INSERT INTO right_changes (person_id) VALUES (OLD.person_id);

CREATE OR REPLACE TRIGGER member_changed AFTER UPDATE ON class_members FOR EACH ROW
  INSERT INTO right_changes (person_id) SELECT OLD.person_id FROM DUAL
  WHERE NOT (NEW.person_id = OLD.person_id AND NEW.class_id = OLD.class_id AND NEW.role = OLD.role);

-- Rows that go with their class or their person set off no trigger of their own.
CREATE OR REPLACE TRIGGER class_gone AFTER DELETE ON classes FOR EACH ROW INSERT INTO right_changes () VALUES ();

CREATE OR REPLACE TRIGGER person_gone AFTER DELETE ON people FOR EACH ROW
  INSERT INTO right_changes (person_id) VALUES (OLD.id);

CREATE OR REPLACE TRIGGER person_changed AFTER UPDATE ON people FOR EACH ROW
  INSERT INTO right_changes (person_id) SELECT OLD.id FROM DUAL
  WHERE NOT (NEW.closed_at <=> OLD.closed_at AND NEW.role = OLD.role);

CREATE OR REPLACE TRIGGER release_gone AFTER DELETE ON releases FOR EACH ROW INSERT INTO right_changes () VALUES ();

CREATE OR REPLACE TRIGGER release_changed AFTER UPDATE ON releases FOR EACH ROW
  INSERT INTO right_changes (person_id) SELECT NULL FROM DUAL WHERE NOT (NEW.class_id <=> OLD.class_id);

CREATE OR REPLACE TRIGGER sitting_gone AFTER DELETE ON sittings FOR EACH ROW INSERT INTO right_changes () VALUES ();

CREATE OR REPLACE TRIGGER sitting_changed AFTER UPDATE ON sittings FOR EACH ROW
  INSERT INTO right_changes (person_id) SELECT NULL FROM DUAL WHERE NEW.release_id <> OLD.release_id;

CREATE OR REPLACE TRIGGER take_gone AFTER DELETE ON takes FOR EACH ROW
  INSERT INTO right_changes (recording_id) VALUES (OLD.id);

CREATE OR REPLACE TRIGGER take_changed AFTER UPDATE ON takes FOR EACH ROW
  INSERT INTO right_changes (recording_id) SELECT OLD.id FROM DUAL WHERE NEW.sitting_id <> OLD.sitting_id;

CREATE OR REPLACE TRIGGER recording_gone AFTER DELETE ON recordings FOR EACH ROW
  INSERT INTO right_changes (recording_id) VALUES (OLD.id);

-- It takes no more bytes; or another stretch is heard of it, or nothing: its playable copy is made anew.
CREATE OR REPLACE TRIGGER recording_changed AFTER UPDATE ON recordings FOR EACH ROW
  INSERT INTO right_changes (recording_id) SELECT OLD.id FROM DUAL
  WHERE NEW.owner_id <> OLD.owner_id OR (OLD.state = 'arriving' AND NEW.state <> 'arriving')
    OR (OLD.playable_at IS NOT NULL AND NEW.playable_at IS NULL);

CREATE OR REPLACE TRIGGER contribution_changed AFTER UPDATE ON contributions FOR EACH ROW
  INSERT INTO right_changes (recording_id) SELECT OLD.id FROM DUAL
  WHERE NOT (NEW.put_in_at <=> OLD.put_in_at AND NEW.taken_back_at <=> OLD.taken_back_at);
