-- Ways through a ledger that do not follow its length, snapshots that grow with what was done, tasks, layers of takes.

-- An ancestor further back, so that any ancestor is reached in few steps (a skew-binary list: Myers 1983,
-- "An applicative random-access stack"). Null is the start.
alter table edit add column jump integer references edit (id);
-- Edits, and bytes of their bodies, since the newest snapshot at or before this one.
alter table edit add column unsaved integer not null default 0;
alter table edit add column unsaved_bytes integer not null default 0;
-- Whether a sheet is marked as the direction gone on with, at this line.
alter table edit add column chosen integer not null default 0;
alter table document add column chosen integer not null default 0;   -- the same before its first edit

create index document_by_kind on document (kind, place);
create index version_by_document on version (document);

-- Snapshots are packed (zlib); `size` is their length when unpacked. They can be made anew at any time.
drop table snapshot;
create table snapshot (
    edit integer primary key references edit (id),
    size integer not null,
    body blob not null
) strict;

-- What a finished take holds: by frame and layer ("picture", …), each an asset that is read in ranges.
create table take_layer (
    take  text not null references take (id),
    frame integer not null,
    layer text not null,
    sha   text not null references asset (sha),
    primary key (take, frame, layer)
) strict;
insert into take_layer (take, frame, layer, sha) select id, 0, 'picture', picture from take where picture is not null;
