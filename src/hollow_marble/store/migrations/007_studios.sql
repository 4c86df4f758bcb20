-- A studio's lamps and its set say of which kind they are (filled in by `migrating.after_studios`); what stood behind was always a sweep.
update project set value = '7' where key = 'readable_from';
