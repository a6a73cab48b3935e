-- A secondary looked at on the machine beside a primary that is stripped: each as far as a hand opened it.
ALTER TABLE strip ADD COLUMN secondary_depth TEXT
    CHECK (secondary_depth IN ('on machine', 'off the machine', 'cover off', 'full strip'));
