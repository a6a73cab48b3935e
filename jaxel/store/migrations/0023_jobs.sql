-- Whole jobs chosen at the strip, parts taken off so far, what another clutch would cost, and how many of a thing go in
-- by the sheet of what was fitted.

ALTER TABLE strip ADD COLUMN jobs TEXT NOT NULL DEFAULT '[]' CHECK (json_valid(jobs));
ALTER TABLE strip ADD COLUMN off TEXT NOT NULL DEFAULT '[]' CHECK (json_valid(off));
ALTER TABLE strip ADD COLUMN used_price REAL CHECK (used_price BETWEEN 0 AND 1000000);
ALTER TABLE strip ADD COLUMN new_price REAL CHECK (new_price BETWEEN 0 AND 1000000);
ALTER TABLE counted ADD COLUMN goes_in INTEGER CHECK (goes_in BETWEEN 0 AND 999);
ALTER TABLE counted ADD COLUMN by_sheet TEXT NOT NULL DEFAULT '' CHECK (length(by_sheet) <= 200);
