-- Rungs that were reached at each run of the checks of the ladder; null in rows from before.
alter table complaint_point add column reached jsonb;
