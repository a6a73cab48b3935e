-- The kinds of a machine's two clutches, by the key of their file in core/data/kinds; not stated for machines from before.

ALTER TABLE machine ADD COLUMN primary_kind TEXT CHECK (length(primary_kind) BETWEEN 1 AND 60);
ALTER TABLE machine ADD COLUMN secondary_kind TEXT CHECK (length(secondary_kind) BETWEEN 1 AND 60);
