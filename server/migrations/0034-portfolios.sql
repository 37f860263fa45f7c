-- What students choose of their recordings, to keep and to show.
ALTER TABLE recordings
  MODIFY COLUMN purpose ENUM('prompt', 'take', 'note', 'reply', 'clip', 'portfolio') NOT NULL;

CREATE TABLE IF NOT EXISTS portfolios (
  id UUID PRIMARY KEY,
  owner_id UUID NOT NULL,
  revision INT UNSIGNED NOT NULL,
  -- Title, words and pieces in their order (contract/portfolios).
  content LONGTEXT NOT NULL CHECK (JSON_VALID(content)),
  made_at DATETIME(3) NOT NULL,
  changed_at DATETIME(3) NOT NULL,
  -- Thrown away: shown to nobody, and had back for thirty days.
  removed_at DATETIME(3) NULL,
  KEY portfolios_owner (owner_id, made_at),
  KEY portfolios_removed (removed_at),
  CONSTRAINT portfolios_owner_fk FOREIGN KEY (owner_id) REFERENCES people (id) ON DELETE CASCADE
) DEFAULT CHARSET=utf8mb4;

-- Pictures and spoken reflections that were brought for one.
CREATE TABLE IF NOT EXISTS portfolio_files (
  recording_id UUID PRIMARY KEY,
  portfolio_id UUID NOT NULL,
  brought_at DATETIME(3) NOT NULL,
  KEY portfolio_files_portfolio (portfolio_id),
  KEY portfolio_files_brought (brought_at),
  CONSTRAINT portfolio_files_portfolio_fk FOREIGN KEY (portfolio_id) REFERENCES portfolios (id) ON DELETE CASCADE,
  CONSTRAINT portfolio_files_recording_fk FOREIGN KEY (recording_id) REFERENCES recordings (id) ON DELETE CASCADE
);

-- Teachers whom it is shown to, as long as they teach its student.
CREATE TABLE IF NOT EXISTS portfolio_readers (
  portfolio_id UUID NOT NULL,
  teacher_id UUID NOT NULL,
  PRIMARY KEY (portfolio_id, teacher_id),
  KEY portfolio_readers_teacher (teacher_id),
  CONSTRAINT portfolio_readers_portfolio_fk FOREIGN KEY (portfolio_id) REFERENCES portfolios (id) ON DELETE CASCADE,
  CONSTRAINT portfolio_readers_teacher_fk FOREIGN KEY (teacher_id) REFERENCES people (id) ON DELETE CASCADE
);

-- Addresses that are keys: each for somebody, with an end, and ended earlier one by one.
CREATE TABLE IF NOT EXISTS portfolio_addresses (
  id UUID PRIMARY KEY,
  portfolio_id UUID NOT NULL,
  name VARCHAR(120) NOT NULL,
  language VARCHAR(8) NOT NULL,
  made_at DATETIME(3) NOT NULL,
  ends_at DATETIME(3) NOT NULL,
  revoked_at DATETIME(3) NULL,
  KEY portfolio_addresses_portfolio (portfolio_id, made_at),
  CONSTRAINT portfolio_addresses_portfolio_fk FOREIGN KEY (portfolio_id) REFERENCES portfolios (id) ON DELETE CASCADE
) DEFAULT CHARSET=utf8mb4;

CREATE TABLE IF NOT EXISTS portfolio_suggestions (
  id UUID PRIMARY KEY,
  take_id UUID NOT NULL,
  student_id UUID NOT NULL,
  teacher_id UUID NOT NULL,
  words VARCHAR(500) NOT NULL,
  made_at DATETIME(3) NOT NULL,
  -- What its student said to it; NULL until then.
  answer ENUM('taken', 'declined') NULL,
  UNIQUE KEY portfolio_suggestions_take (take_id, teacher_id),
  KEY portfolio_suggestions_student (student_id, answer, made_at),
  CONSTRAINT portfolio_suggestions_take_fk FOREIGN KEY (take_id) REFERENCES takes (id) ON DELETE CASCADE,
  CONSTRAINT portfolio_suggestions_student_fk FOREIGN KEY (student_id) REFERENCES people (id) ON DELETE CASCADE,
  CONSTRAINT portfolio_suggestions_teacher_fk FOREIGN KEY (teacher_id) REFERENCES people (id) ON DELETE CASCADE
) DEFAULT CHARSET=utf8mb4;
