BEGIN TRANSACTION;
CREATE TABLE belt (
    id INTEGER PRIMARY KEY,
    machine_id INTEGER NOT NULL REFERENCES machine,
    number INTEGER NOT NULL CHECK (number >= 1),
    state TEXT NOT NULL CHECK (state IN ('fitted', 'spare', 'discarded')),
    width_mm REAL NOT NULL CHECK (width_mm > 0 AND width_mm <= 200),
    fitted_at_km REAL CHECK (fitted_at_km >= 0),
    UNIQUE (machine_id, number)
) STRICT;
INSERT INTO "belt" VALUES(1,1,1,'fitted',3.61666666666666642977e+01,NULL);
INSERT INTO "belt" VALUES(2,2,1,'spare',3.41333333333333328592e+01,NULL);
INSERT INTO "belt" VALUES(3,2,2,'fitted',35.0,3140.0);
INSERT INTO "belt" VALUES(4,3,1,'fitted',33.0,NULL);
CREATE TABLE belt_reading (
    visit_id INTEGER NOT NULL REFERENCES visit,
    place INTEGER NOT NULL CHECK (place BETWEEN 1 AND 3),
    width_mm REAL NOT NULL CHECK (width_mm > 0 AND width_mm <= 200),
    taken_at TEXT NOT NULL,
    PRIMARY KEY (visit_id, place)
) STRICT, WITHOUT ROWID;
INSERT INTO "belt_reading" VALUES(1,1,36.2,'2026-02-08T00:00:00Z');
INSERT INTO "belt_reading" VALUES(1,2,36.2,'2026-02-08T00:00:00Z');
INSERT INTO "belt_reading" VALUES(1,3,36.1,'2026-02-08T00:00:00Z');
INSERT INTO "belt_reading" VALUES(2,1,35.4,'2026-11-22T00:00:00Z');
INSERT INTO "belt_reading" VALUES(2,2,35.5,'2026-11-22T00:00:00Z');
INSERT INTO "belt_reading" VALUES(2,3,35.4,'2026-11-22T00:00:00Z');
INSERT INTO "belt_reading" VALUES(3,1,34.1,'2026-11-02T00:00:00Z');
INSERT INTO "belt_reading" VALUES(3,2,34.2,'2026-11-02T00:00:00Z');
INSERT INTO "belt_reading" VALUES(3,3,34.1,'2026-11-02T00:00:00Z');
INSERT INTO "belt_reading" VALUES(4,1,31.9,'2026-11-23T00:00:00Z');
INSERT INTO "belt_reading" VALUES(4,2,32.3,'2026-11-23T00:00:00Z');
CREATE TABLE machine (
    id INTEGER PRIMARY KEY,
    name TEXT NOT NULL CHECK (length(trim(name)) BETWEEN 1 AND 120),
    kind TEXT NOT NULL CHECK (kind IN ('sled', 'side-by-side', 'quad')),
    rider TEXT NOT NULL DEFAULT '' CHECK (length(rider) <= 120),
    limit_origin TEXT NOT NULL CHECK (limit_origin IN ('manual, entered by the workshop', 'common practice', 'from memory')),
    created_at TEXT NOT NULL
) STRICT;
INSERT INTO "machine" VALUES(1,'Tarnhowe 840 mountain sled','sled','Maren T.','manual, entered by the workshop','2026-02-06T00:00:00Z');
INSERT INTO "machine" VALUES(2,'Hollinbeck 600 trail sled','sled','Edvin L.','manual, entered by the workshop','2026-11-02T00:00:00Z');
INSERT INTO "machine" VALUES(3,'Skelwath 900 side-by-side','side-by-side','Farm at Nedre Lia','manual, entered by the workshop','2026-11-21T00:00:00Z');
CREATE TABLE road_test (
    id INTEGER PRIMARY KEY,
    visit_id INTEGER NOT NULL REFERENCES visit,
    revision_id INTEGER NOT NULL REFERENCES setup_revision,
    belt_width_mm REAL NOT NULL CHECK (belt_width_mm > 0),
    engagement_rpm REAL CHECK (engagement_rpm > 0 AND engagement_rpm <= 30000),
    shift_rpm REAL CHECK (shift_rpm > 0 AND shift_rpm <= 30000),
    note TEXT NOT NULL DEFAULT '' CHECK (length(note) <= 1000),
    taken_at TEXT NOT NULL
) STRICT;
INSERT INTO "road_test" VALUES(1,1,1,3.61666666666666642977e+01,4040.0,7880.0,'Packed snow, two pulls each way.','2026-02-08T00:00:00Z');
INSERT INTO "road_test" VALUES(2,3,3,35.0,3860.0,7960.0,'Lake strip, new belt broken in first.','2026-11-02T00:00:00Z');
CREATE TABLE setup_revision (
    id INTEGER PRIMARY KEY,
    machine_id INTEGER NOT NULL REFERENCES machine,
    parent_id INTEGER REFERENCES setup_revision,
    visit_id INTEGER REFERENCES visit,
    reason TEXT NOT NULL CHECK (length(trim(reason)) BETWEEN 1 AND 500),
    document TEXT NOT NULL CHECK (json_valid(document)),
    created_at TEXT NOT NULL,
    CHECK (json_extract(document, '$.format') = 'jaxel-setup'),
    CHECK (json_extract(document, '$.primary.weights.base_mass_g') > 0),
    CHECK (json_extract(document, '$.primary.weights.count') BETWEEN 2 AND 16),
    CHECK (json_extract(document, '$.belt.top_width_mm') > 0),
    CHECK (json_extract(document, '$.belt.top_width_mm') <= json_extract(document, '$.belt.top_width_new_mm') + 1.0)
) STRICT;
INSERT INTO "setup_revision" VALUES(1,1,NULL,NULL,'as brought in','{"format":"jaxel-setup","version":1,"name":"Tarnhowe 840 mountain sled","engine":{"curve":[{"rpm":2000.0,"torque_nm":52.0},{"rpm":3500.0,"torque_nm":73.0},{"rpm":5000.0,"torque_nm":97.0},{"rpm":6500.0,"torque_nm":120.0},{"rpm":7300.0,"torque_nm":133.0},{"rpm":7800.0,"torque_nm":134.0},{"rpm":8200.0,"torque_nm":125.0},{"rpm":8800.0,"torque_nm":92.0}],"rev_limit_rpm":8600.0,"boost_compensated":false},"conditions":{"elevation_m":900.0,"temperature_c":-10.0,"relative_humidity":0.6},"geometry":{"centre_distance_mm":270.0,"sheave_half_angle_deg":13.0,"primary":{"hub_radius_mm":36.0,"idle_clearance_mm":1.2,"travel_mm":30.0},"secondary":{"closed_radius_mm":124.0,"travel_mm":32.0}},"belt":{"outer_circumference_mm":1107.0,"cord_depth_mm":4.5,"top_width_new_mm":36.5,"top_width_mm":36.5,"top_width_min_mm":35.0},"primary":{"profile":{"kind":"swing-arm","pivot_radius_mm":47.0,"cg_mm":33.0,"cg_deg":0.0,"swing":[{"travel_mm":0.0,"deg":6.0},{"travel_mm":1.5,"deg":7.24},{"travel_mm":3.0,"deg":8.66},{"travel_mm":4.5,"deg":10.51},{"travel_mm":6.0,"deg":12.59},{"travel_mm":8.0,"deg":15.3},{"travel_mm":10.0,"deg":17.94},{"travel_mm":13.0,"deg":21.84},{"travel_mm":16.0,"deg":25.7},{"travel_mm":20.0,"deg":30.89},{"travel_mm":24.0,"deg":36.24},{"travel_mm":31.0,"deg":46.46}],"stations":[{"name":"heel","distance_mm":19.0,"deg":0.0},{"name":"middle","distance_mm":35.0,"deg":0.0},{"name":"tip","distance_mm":49.0,"deg":1.0}]},"weights":{"count":3,"base_mass_g":60.0,"loads":[{"station":"tip","mass_g":1.5}]},"spring":{"force_start_n":610.0,"force_finish_n":1380.0,"travel_mm":30.0},"shim_mm":0.0},"secondary":{"helix":{"radius_mm":44.0,"angles":[{"travel_mm":0.0,"deg":41.0}]},"spring":{"torsion_rate_nm_per_deg":0.0,"pretwist_deg":0.0,"force_start_n":790.0,"force_finish_n":1280.0,"travel_mm":32.0},"torque_share":0.5},"vehicle":{"mass_kg":325.0,"drive_ratio":2.43,"rolling_radius_mm":92.0,"cd_a_m2":0.85,"rolling_coefficient":0.12},"target":{"engagement_rpm":4150.0,"engagement_tolerance_rpm":100.0,"shift_rpm":7850.0,"shift_tolerance_rpm":100.0},"model":{"friction":0.35,"adhesion_share":0.35,"hysteresis":0.05,"helix_friction":0.0,"gain_scale":1.0,"gain_tilt":0.0,"torque_scale":1.0,"drive_efficiency":0.9}}','2026-02-06T00:00:00Z');
INSERT INTO "setup_revision" VALUES(2,1,1,2,'thinner air at 1,500 m: weight off the arms, a stiffer start for the climb','{"format":"jaxel-setup","version":1,"name":"Tarnhowe 840 mountain sled","engine":{"curve":[{"rpm":2000.0,"torque_nm":52.0},{"rpm":3500.0,"torque_nm":73.0},{"rpm":5000.0,"torque_nm":97.0},{"rpm":6500.0,"torque_nm":120.0},{"rpm":7300.0,"torque_nm":133.0},{"rpm":7800.0,"torque_nm":134.0},{"rpm":8200.0,"torque_nm":125.0},{"rpm":8800.0,"torque_nm":92.0}],"rev_limit_rpm":8600.0,"boost_compensated":false},"conditions":{"elevation_m":1500.0,"temperature_c":-12.0,"relative_humidity":0.6},"geometry":{"centre_distance_mm":270.0,"sheave_half_angle_deg":13.0,"primary":{"hub_radius_mm":36.0,"idle_clearance_mm":1.2,"travel_mm":30.0},"secondary":{"closed_radius_mm":124.0,"travel_mm":32.0}},"belt":{"outer_circumference_mm":1107.0,"cord_depth_mm":4.5,"top_width_new_mm":36.5,"top_width_mm":35.43333333333334,"top_width_min_mm":35.0},"primary":{"profile":{"kind":"swing-arm","pivot_radius_mm":47.0,"cg_mm":33.0,"cg_deg":0.0,"swing":[{"travel_mm":0.0,"deg":6.0},{"travel_mm":1.5,"deg":7.24},{"travel_mm":3.0,"deg":8.66},{"travel_mm":4.5,"deg":10.51},{"travel_mm":6.0,"deg":12.59},{"travel_mm":8.0,"deg":15.3},{"travel_mm":10.0,"deg":17.94},{"travel_mm":13.0,"deg":21.84},{"travel_mm":16.0,"deg":25.7},{"travel_mm":20.0,"deg":30.89},{"travel_mm":24.0,"deg":36.24},{"travel_mm":31.0,"deg":46.46}],"stations":[{"name":"heel","distance_mm":19.0,"deg":0.0},{"name":"middle","distance_mm":35.0,"deg":0.0},{"name":"tip","distance_mm":49.0,"deg":1.0}]},"weights":{"count":3,"base_mass_g":59.0,"loads":[{"station":"tip","mass_g":0.5}]},"spring":{"force_start_n":640.0,"force_finish_n":1380.0,"travel_mm":30.0},"shim_mm":0.0},"secondary":{"helix":{"radius_mm":44.0,"angles":[{"travel_mm":0.0,"deg":41.0}]},"spring":{"torsion_rate_nm_per_deg":0.0,"pretwist_deg":0.0,"force_start_n":790.0,"force_finish_n":1280.0,"travel_mm":32.0},"torque_share":0.5},"vehicle":{"mass_kg":325.0,"drive_ratio":2.43,"rolling_radius_mm":92.0,"cd_a_m2":0.85,"rolling_coefficient":0.12},"target":{"engagement_rpm":4150.0,"engagement_tolerance_rpm":100.0,"shift_rpm":7850.0,"shift_tolerance_rpm":100.0},"model":{"friction":0.35,"adhesion_share":0.35,"hysteresis":0.05,"helix_friction":0.0,"gain_scale":1.0,"gain_tilt":0.0,"torque_scale":1.0,"drive_efficiency":0.9}}','2026-11-22T00:00:00Z');
INSERT INTO "setup_revision" VALUES(3,2,NULL,NULL,'as brought in','{"format":"jaxel-setup","version":1,"name":"Hollinbeck 600 trail sled","engine":{"curve":[{"rpm":2000.0,"torque_nm":44.0},{"rpm":3500.0,"torque_nm":58.0},{"rpm":5000.0,"torque_nm":74.0},{"rpm":6500.0,"torque_nm":96.0},{"rpm":7500.0,"torque_nm":106.0},{"rpm":8000.0,"torque_nm":107.0},{"rpm":8300.0,"torque_nm":101.0},{"rpm":8900.0,"torque_nm":78.0}],"rev_limit_rpm":8700.0,"boost_compensated":false},"conditions":{"elevation_m":250.0,"temperature_c":-5.0,"relative_humidity":0.7},"geometry":{"centre_distance_mm":264.0,"sheave_half_angle_deg":12.5,"primary":{"hub_radius_mm":35.0,"idle_clearance_mm":1.0,"travel_mm":29.0},"secondary":{"closed_radius_mm":121.0,"travel_mm":31.0}},"belt":{"outer_circumference_mm":1084.0,"cord_depth_mm":4.4,"top_width_new_mm":35.0,"top_width_mm":35.0,"top_width_min_mm":33.6},"primary":{"profile":{"kind":"swing-arm","pivot_radius_mm":46.0,"cg_mm":32.0,"cg_deg":-1.0,"swing":[{"travel_mm":0.0,"deg":6.0},{"travel_mm":1.5,"deg":7.54},{"travel_mm":3.0,"deg":9.34},{"travel_mm":4.5,"deg":11.7},{"travel_mm":6.0,"deg":14.26},{"travel_mm":8.0,"deg":17.63},{"travel_mm":10.0,"deg":20.96},{"travel_mm":13.0,"deg":25.92},{"travel_mm":16.0,"deg":30.94},{"travel_mm":20.0,"deg":37.86},{"travel_mm":24.0,"deg":45.27},{"travel_mm":30.0,"deg":58.22}],"stations":[{"name":"heel","distance_mm":19.0,"deg":0.0},{"name":"middle","distance_mm":35.0,"deg":0.0},{"name":"tip","distance_mm":49.0,"deg":1.0}]},"weights":{"count":3,"base_mass_g":49.0,"loads":[]},"spring":{"force_start_n":480.0,"force_finish_n":1120.0,"travel_mm":29.0},"shim_mm":0.0},"secondary":{"helix":{"radius_mm":43.0,"angles":[{"travel_mm":0.0,"deg":41.0},{"travel_mm":18.0,"deg":37.0}]},"spring":{"torsion_rate_nm_per_deg":0.0,"pretwist_deg":0.0,"force_start_n":860.0,"force_finish_n":1300.0,"travel_mm":31.0},"torque_share":0.5},"vehicle":{"mass_kg":300.0,"drive_ratio":2.6,"rolling_radius_mm":90.0,"cd_a_m2":0.8,"rolling_coefficient":0.11},"target":{"engagement_rpm":3900.0,"engagement_tolerance_rpm":100.0,"shift_rpm":8000.0,"shift_tolerance_rpm":100.0},"model":{"friction":0.35,"adhesion_share":0.35,"hysteresis":0.05,"helix_friction":0.0,"gain_scale":1.0,"gain_tilt":0.0,"torque_scale":1.0,"drive_efficiency":0.9}}','2026-11-02T00:00:00Z');
INSERT INTO "setup_revision" VALUES(4,3,NULL,NULL,'as brought in','{"format":"jaxel-setup","version":1,"name":"Skelwath 900 side-by-side","engine":{"curve":[{"rpm":1500.0,"torque_nm":52.0},{"rpm":2500.0,"torque_nm":66.0},{"rpm":3500.0,"torque_nm":77.0},{"rpm":4500.0,"torque_nm":84.0},{"rpm":5500.0,"torque_nm":87.0},{"rpm":6500.0,"torque_nm":88.0},{"rpm":7500.0,"torque_nm":85.0},{"rpm":8200.0,"torque_nm":79.0},{"rpm":8800.0,"torque_nm":66.0}],"rev_limit_rpm":8700.0,"boost_compensated":false},"conditions":{"elevation_m":300.0,"temperature_c":20.0,"relative_humidity":0.5},"geometry":{"centre_distance_mm":260.0,"sheave_half_angle_deg":13.5,"primary":{"hub_radius_mm":34.0,"idle_clearance_mm":1.4,"travel_mm":28.0},"secondary":{"closed_radius_mm":117.0,"travel_mm":30.0}},"belt":{"outer_circumference_mm":1050.0,"cord_depth_mm":4.8,"top_width_new_mm":33.0,"top_width_mm":33.0,"top_width_min_mm":30.5},"primary":{"profile":{"kind":"swing-arm","pivot_radius_mm":44.0,"cg_mm":31.0,"cg_deg":-3.0,"swing":[{"travel_mm":0.0,"deg":6.0},{"travel_mm":1.5,"deg":8.57},{"travel_mm":3.0,"deg":11.23},{"travel_mm":4.5,"deg":13.56},{"travel_mm":6.0,"deg":15.57},{"travel_mm":8.0,"deg":18.25},{"travel_mm":10.0,"deg":20.96},{"travel_mm":13.0,"deg":25.08},{"travel_mm":16.0,"deg":29.31},{"travel_mm":20.0,"deg":35.2},{"travel_mm":24.0,"deg":41.52},{"travel_mm":29.0,"deg":50.35}],"stations":[{"name":"pocket 1","distance_mm":20.0,"deg":-2.0},{"name":"pocket 2","distance_mm":32.0,"deg":0.0},{"name":"pocket 3","distance_mm":44.0,"deg":2.0}]},"weights":{"count":3,"base_mass_g":45.0,"loads":[{"station":"pocket 1","mass_g":1.5},{"station":"pocket 2","mass_g":4.0},{"station":"pocket 3","mass_g":2.5}]},"spring":{"force_start_n":250.0,"force_finish_n":700.0,"travel_mm":28.0},"shim_mm":0.0},"secondary":{"helix":{"radius_mm":46.0,"angles":[{"travel_mm":0.0,"deg":42.0},{"travel_mm":20.0,"deg":37.0}]},"spring":{"torsion_rate_nm_per_deg":0.12,"pretwist_deg":0.0,"force_start_n":760.0,"force_finish_n":1180.0,"travel_mm":30.0},"holes":{"fitted":{"sheave":"B","helix":"2"},"table":[{"sheave":"A","helix":"1","pretwist_deg":40.0},{"sheave":"A","helix":"2","pretwist_deg":60.0},{"sheave":"B","helix":"1","pretwist_deg":70.0},{"sheave":"B","helix":"2","pretwist_deg":80.0},{"sheave":"B","helix":"3","pretwist_deg":100.0}]},"torque_share":0.5},"vehicle":{"mass_kg":720.0,"drive_ratio":8.8,"rolling_radius_mm":350.0,"cd_a_m2":1.3,"rolling_coefficient":0.05},"target":{"engagement_rpm":2400.0,"engagement_tolerance_rpm":100.0,"shift_rpm":7700.0,"shift_tolerance_rpm":150.0},"model":{"friction":0.35,"adhesion_share":0.35,"hysteresis":0.05,"helix_friction":0.0,"gain_scale":1.0,"gain_tilt":0.0,"torque_scale":1.0,"drive_efficiency":0.9}}','2026-11-21T00:00:00Z');
CREATE TABLE visit (
    id INTEGER PRIMARY KEY,
    machine_id INTEGER NOT NULL REFERENCES machine,
    edit INTEGER NOT NULL DEFAULT 1,
    opened_at TEXT NOT NULL,
    signed_off_at TEXT,
    signed_off_by TEXT NOT NULL DEFAULT '' CHECK (length(signed_off_by) <= 120),

    odometer_km REAL CHECK (odometer_km BETWEEN 0 AND 1000000),
    complaint TEXT NOT NULL DEFAULT '' CHECK (length(complaint) <= 2000),
    riding TEXT NOT NULL DEFAULT '' CHECK (riding IN ('', 'trail', 'mud', 'dune', 'mountain', 'towing')),
    elevation_m REAL NOT NULL CHECK (elevation_m BETWEEN -430 AND 6000),
    temperature_c REAL NOT NULL CHECK (temperature_c BETWEEN -50 AND 60),
    humidity_pct REAL NOT NULL CHECK (humidity_pct BETWEEN 0 AND 100),
    fitted_confirmed INTEGER NOT NULL DEFAULT 0 CHECK (fitted_confirmed IN (0, 1)),
    target_engagement_rpm REAL NOT NULL CHECK (target_engagement_rpm > 0 AND target_engagement_rpm <= 30000),
    target_engagement_tolerance_rpm REAL NOT NULL CHECK (target_engagement_tolerance_rpm > 0 AND target_engagement_tolerance_rpm <= 30000),
    target_shift_rpm REAL NOT NULL CHECK (target_shift_rpm > 0 AND target_shift_rpm <= 30000),
    target_shift_tolerance_rpm REAL NOT NULL CHECK (target_shift_tolerance_rpm > 0 AND target_shift_tolerance_rpm <= 30000),
    baseline_engagement_rpm REAL CHECK (baseline_engagement_rpm > 0 AND baseline_engagement_rpm <= 30000),
    baseline_shift_rpm REAL CHECK (baseline_shift_rpm > 0 AND baseline_shift_rpm <= 30000),

    belt_id INTEGER NOT NULL REFERENCES belt,
    belt_decision TEXT CHECK (belt_decision IN ('run on', 'spare', 'discard')),
    belt_reason TEXT NOT NULL DEFAULT '' CHECK (length(belt_reason) <= 500),
    next_belt_id INTEGER REFERENCES belt,
    next_belt_width_mm REAL CHECK (next_belt_width_mm > 0 AND next_belt_width_mm <= 200),

    found_revision_id INTEGER NOT NULL REFERENCES setup_revision,
    left_revision_id INTEGER NOT NULL REFERENCES setup_revision,
    found_draft TEXT CHECK (found_draft IS NULL OR json_valid(found_draft)),
    left_draft TEXT CHECK (left_draft IS NULL OR json_valid(left_draft)),
    change_reason TEXT NOT NULL DEFAULT '' CHECK (length(change_reason) <= 500),

    watch TEXT NOT NULL DEFAULT '' CHECK (length(watch) <= 2000),
    next_service_km REAL CHECK (next_service_km BETWEEN 0 AND 1000000)
) STRICT;
INSERT INTO "visit" VALUES(1,1,10,'2026-02-08T00:00:00Z','2026-02-08T00:00:00Z','Jonas, bench 1',820.0,'First service. Runs well, wants it checked before the spring tour.','mountain',900.0,-10.0,60.0,1,4150.0,100.0,7850.0,100.0,NULL,NULL,1,'run on','',NULL,NULL,1,1,NULL,NULL,'','Belt width again at 1,600 km.',1600.0);
INSERT INTO "visit" VALUES(2,1,9,'2026-11-22T00:00:00Z',NULL,'',2310.0,'Bogs when she opens it on a climb, and feels lazy at the top.','mountain',1500.0,-12.0,60.0,1,4150.0,100.0,7850.0,100.0,3930.0,7530.0,1,'run on','one more weekend, then the spare',NULL,NULL,1,2,NULL,NULL,'','',NULL);
INSERT INTO "visit" VALUES(3,2,10,'2026-11-02T00:00:00Z','2026-11-02T00:00:00Z','Jonas, bench 1',3140.0,'Top speed is down since last winter.','trail',250.0,-4.0,70.0,1,3900.0,100.0,8000.0,100.0,NULL,8060.0,2,'spare','narrow: it starts and ends in the wrong gear',NULL,35.0,3,3,NULL,NULL,'','New belt: look at it after 300 km.',4500.0);
INSERT INTO "visit" VALUES(4,3,6,'2026-11-23T00:00:00Z',NULL,'',4870.0,'Revs past itself when the trailer is on, smells of belt.','towing',300.0,4.0,50.0,1,2400.0,100.0,7700.0,150.0,2390.0,7940.0,4,NULL,'',NULL,NULL,4,4,NULL,'{"load_g.pocket 3": 3.5}','','',NULL);
CREATE INDEX setup_revision_of_machine ON setup_revision (machine_id, id);
CREATE TRIGGER setup_revision_stays BEFORE DELETE ON setup_revision
BEGIN SELECT RAISE(ABORT, 'a set-up revision is never deleted'); END;
CREATE UNIQUE INDEX one_fitted_belt ON belt (machine_id) WHERE state = 'fitted';
CREATE UNIQUE INDEX one_open_visit ON visit (machine_id) WHERE signed_off_at IS NULL;
CREATE INDEX visit_of_machine ON visit (machine_id, id);
CREATE INDEX road_test_of_visit ON road_test (visit_id, id);
CREATE TRIGGER setup_revision_kept BEFORE UPDATE ON setup_revision
BEGIN SELECT RAISE(ABORT, 'a set-up revision is never overwritten'); END;
COMMIT;
PRAGMA user_version = 1;
