-- What is looked for every few minutes is found without reading a table to its end.
ALTER TABLE recordings ADD KEY IF NOT EXISTS recordings_not_playable (state, playable_at, created_at);

ALTER TABLE joint_answers
  ADD KEY IF NOT EXISTS joint_answers_open (way, ended_at),
  ADD KEY IF NOT EXISTS joint_answers_made (made_at);
