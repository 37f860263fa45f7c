-- What was measured of a take, in figures; the whole of it is a file beside its peaks. Measured anew, the row is replaced:
-- it is worked out from a recording that stays.
CREATE TABLE measures (
  recording_id UUID PRIMARY KEY,
  -- Of the way of measuring; takes with an older one are measured again.
  revision INT UNSIGNED NOT NULL,
  -- Why nothing could be measured; null where something was.
  problem VARCHAR(300) NULL,
  figures LONGTEXT NOT NULL CHECK (JSON_VALID(figures)),
  -- Beginnings and ends of the pauses in ms of the recording, one after the other.
  pauses LONGTEXT NOT NULL CHECK (JSON_VALID(pauses)),
  measured_at DATETIME(3) NOT NULL,
  CONSTRAINT measures_recording FOREIGN KEY (recording_id) REFERENCES recordings (id) ON DELETE CASCADE
) DEFAULT CHARSET=utf8mb4;
