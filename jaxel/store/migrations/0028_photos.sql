-- Photos of anything, in the order a hand puts them, with what is drawn on them.
ALTER TABLE photo ADD COLUMN place INTEGER NOT NULL DEFAULT 0 CHECK (place >= 0);
ALTER TABLE photo ADD COLUMN marks TEXT NOT NULL DEFAULT '[]'
    CHECK (json_valid(marks) AND json_type(marks) = 'array' AND length(marks) <= 4000);
UPDATE photo SET place = (
    SELECT count(*) FROM photo AS other
    WHERE other.machine_id = photo.machine_id AND other.subject = photo.subject
        AND other.visit_id IS photo.visit_id AND other.id <= photo.id
);
