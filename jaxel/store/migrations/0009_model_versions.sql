-- Which model predicted what. A prediction names its model's version; figures of a revision are kept for each version,
-- so that a list shows today's and an older one stays, without the snap it did not know. Runs say theirs since 0002:
-- a past miss stays as it was.

CREATE TABLE model_version (
    version INTEGER PRIMARY KEY CHECK (version >= 1),
    told TEXT NOT NULL CHECK (told <> '')
) STRICT;
INSERT INTO model_version (version, told) VALUES
    (1, 'The belt pulls as soon as the sheave meets it; its friction does not draw it into the groove.'),
    (2, 'The belt pulls once its slack is taken up, the sheave is released from its stop, and friction seats the belt.');

ALTER TABLE prediction ADD COLUMN model_version INTEGER NOT NULL DEFAULT 1 REFERENCES model_version;

CREATE TABLE revision_figures_new (
    revision_id INTEGER NOT NULL REFERENCES setup_revision,
    model_version INTEGER NOT NULL REFERENCES model_version,
    engagement_rpm REAL CHECK (engagement_rpm >= 0),
    snap_n REAL,
    shift_rpm REAL CHECK (shift_rpm >= 0),
    fault TEXT NOT NULL DEFAULT '',
    PRIMARY KEY (revision_id, model_version)
) STRICT;
INSERT INTO revision_figures_new (revision_id, model_version, engagement_rpm, shift_rpm, fault)
    SELECT revision_id, model_version, engagement_rpm, shift_rpm, fault FROM revision_figures;
DROP TABLE revision_figures;
ALTER TABLE revision_figures_new RENAME TO revision_figures;
