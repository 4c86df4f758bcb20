-- A file says from which format on an application can show it, so that one that is older than the file knows whether it may.
insert into project (key, value) select 'readable_from', '6' where exists (select 1 from project);
