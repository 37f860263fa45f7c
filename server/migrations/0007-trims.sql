-- A take cut to a stretch of itself: what came is kept whole, what is heard and counted is the stretch.
ALTER TABLE recordings
  ADD trim_from_ms INT UNSIGNED NULL,
  ADD trim_to_ms INT UNSIGNED NULL,
  ADD whole_ms INT UNSIGNED NULL;
