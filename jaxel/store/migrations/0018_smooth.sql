-- The model without its known errors. Predictions kept keep their version; a machine's set-ups are read by the new rule
-- (0019 gives tables with a knee their pieces), and its calibrations are fitted anew from their own runs when they are
-- next applied.

INSERT INTO model_version (version, told) VALUES
    (3, 'Arms and pockets are read as smooth curves, an engine runs on where its secondary slips, and each change is told by the factor of what was changed.');

-- How hard the belt is taken, beside the snap that is a part of it; older models did not tell it.
ALTER TABLE revision_figures ADD COLUMN hit_n REAL;
