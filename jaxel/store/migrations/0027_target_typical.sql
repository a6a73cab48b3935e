-- A target is typical of the kind until a hand states it: until then nobody says inside or outside of it.
ALTER TABLE intake ADD COLUMN target_typical INTEGER NOT NULL DEFAULT 0 CHECK (target_typical IN (0, 1));
