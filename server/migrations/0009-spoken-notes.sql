-- A note may be spoken: a recording of its own, which its teacher made for one student.
ALTER TABLE recordings MODIFY purpose ENUM('prompt', 'take', 'note') NOT NULL;

ALTER TABLE notes
  ADD voice_id UUID NULL,
  ADD CONSTRAINT notes_voice FOREIGN KEY (voice_id) REFERENCES recordings (id);
