-- Before a picture goes it is asked whether somebody drew on it: not of every markup that there is.
ALTER TABLE markups ADD KEY IF NOT EXISTS markups_target (target_id);
