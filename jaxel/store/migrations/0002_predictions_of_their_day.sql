-- A run keeps the air it was ridden in and what was predicted for it that day; runs from before have neither.

ALTER TABLE road_test ADD COLUMN elevation_m REAL CHECK (elevation_m BETWEEN -430 AND 6000);
ALTER TABLE road_test ADD COLUMN temperature_c REAL CHECK (temperature_c BETWEEN -50 AND 60);
ALTER TABLE road_test ADD COLUMN humidity_pct REAL CHECK (humidity_pct BETWEEN 0 AND 100);
ALTER TABLE road_test ADD COLUMN model_version INTEGER CHECK (model_version >= 1);
ALTER TABLE road_test ADD COLUMN predicted_engagement_rpm REAL CHECK (predicted_engagement_rpm >= 0);
ALTER TABLE road_test ADD COLUMN predicted_engagement_sd_rpm REAL CHECK (predicted_engagement_sd_rpm >= 0);
ALTER TABLE road_test ADD COLUMN predicted_shift_rpm REAL CHECK (predicted_shift_rpm >= 0);
ALTER TABLE road_test ADD COLUMN predicted_shift_sd_rpm REAL CHECK (predicted_shift_sd_rpm >= 0);

CREATE TRIGGER road_test_prediction_kept BEFORE UPDATE OF elevation_m, temperature_c, humidity_pct, model_version,
    predicted_engagement_rpm, predicted_engagement_sd_rpm, predicted_shift_rpm, predicted_shift_sd_rpm ON road_test
BEGIN SELECT RAISE(ABORT, 'what was predicted for a run is a fact of its day'); END;
