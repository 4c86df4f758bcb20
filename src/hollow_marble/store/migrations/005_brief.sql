-- Every project has a brief; those of earlier versions get an empty one.
insert into document (id, kind, name, place, start, created)
select lower(hex(randomblob(6))), 'brief', 'Brief', 0, '{}', (select value from project where key = 'created')
where exists (select 1 from project where key = 'created') and not exists (select 1 from document where kind = 'brief');
