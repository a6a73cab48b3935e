-- A clutch that came alone and was mounted on a machine: on which side, from when to when, and what came off for it.

CREATE TABLE mounting (
    id INTEGER PRIMARY KEY,
    clutch_id INTEGER NOT NULL REFERENCES machine,
    machine_id INTEGER NOT NULL REFERENCES machine,
    side TEXT NOT NULL CHECK (side IN ('primary', 'secondary')),
    mounted_on TEXT NOT NULL CHECK (date(mounted_on) IS mounted_on),
    ended_on TEXT CHECK (date(ended_on) IS ended_on),
    took_off TEXT NOT NULL CHECK (took_off IN ('bare clutch', 'gone')),
    took_off_id INTEGER REFERENCES machine,
    after_visit INTEGER NOT NULL,
    mounted_by TEXT NOT NULL CHECK (length(mounted_by) BETWEEN 1 AND 120),
    CHECK (clutch_id <> machine_id),
    CHECK ((took_off = 'bare clutch') = (took_off_id IS NOT NULL))
) STRICT;
CREATE UNIQUE INDEX mounting_of_clutch ON mounting (clutch_id) WHERE ended_on IS NULL;
CREATE UNIQUE INDEX mounting_on_side ON mounting (machine_id, side) WHERE ended_on IS NULL;
