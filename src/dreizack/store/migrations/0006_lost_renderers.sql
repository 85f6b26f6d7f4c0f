-- How often a delivery lost its renderer without having come further, and how far it was then:
-- an orderly restart is no loss, and what gets on is not given up.
ALTER TABLE deliveries ADD COLUMN losses integer NOT NULL DEFAULT 0, ADD COLUMN lost_at integer NOT NULL DEFAULT -1;
