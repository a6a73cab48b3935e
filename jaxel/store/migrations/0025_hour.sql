-- What an hour of work costs in this workshop, where it says so: a repair is then one sum.

ALTER TABLE workshop ADD COLUMN hour_price REAL CHECK (hour_price BETWEEN 0 AND 1000000);
