-- Sign-in names are compared letter by letter, with their accents: Brām is not Bram. They are kept in small letters
-- (core's signInKey), so that capitals make no difference.
UPDATE people SET sign_in_name = LOWER(sign_in_name);
ALTER TABLE people MODIFY sign_in_name VARCHAR(120) CHARACTER SET utf8mb4 COLLATE utf8mb4_bin NOT NULL;
