-- Starts of earlier parts keep their shape: their sizes are those of the cage (filled in by `migrating.after_true_sizes`).
-- The noise of a take is that of the cleaned picture; what was kept so far is that of the picture before cleaning.
alter table take add column raw_noise real;
update take set raw_noise = noise, noise = null;
