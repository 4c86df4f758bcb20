-- One project in one file. Times are ISO 8601 in UTC.

create table project (
    key   text primary key,          -- name, maker, id, created
    value text not null
) strict;

-- Binary payloads (stroke samples, pictures, imported cages) by the SHA-256 of their bytes.
create table asset (
    sha   text primary key,          -- lower-case hex
    media text not null,             -- media type of the bytes
    bytes blob not null
) strict;

create table document (
    id      text primary key,
    kind    text not null,           -- sheet, form, studio, board
    name    text not null,
    place   integer not null,        -- order among documents of its kind
    start   text not null,           -- JSON of the document before its first edit
    head    integer references edit (id),  -- the edit the document stands at; null before the first
    tip     integer references edit (id),  -- the end of the branch that redo follows
    created text not null
) strict;

-- Every edit ever made. Never updated, never deleted: undo only moves document.head.
create table edit (
    id       integer primary key autoincrement,
    document text not null references document (id),
    parent   integer references edit (id),   -- null for a first edit
    depth    integer not null,               -- number of edits from the start, 1 for a first edit
    kind     text not null,
    body     text not null,                  -- JSON of the edit
    sentence text not null,
    made     text not null
) strict;
create index edit_by_document on edit (document, id);
create index edit_by_parent on edit (parent);

-- The document's JSON after some edits, so that opening never replays more than a few.
create table snapshot (
    edit integer primary key references edit (id),
    body text not null
) strict;

-- A name on an edit.
create table version (
    id       integer primary key autoincrement,
    document text not null references document (id),
    edit     integer references edit (id),   -- null names the start
    name     text not null,
    made     text not null,
    unique (document, name)
) strict;

-- Pictures rendered from shots, with all that is needed to make them again.
create table take (
    id       text primary key,
    place    integer not null,               -- order of asking
    studio   text not null references document (id),
    shot     text not null,                  -- id of the shot in the studio
    name     text not null,                  -- the shot's name when it was taken
    frozen   text not null,                  -- JSON of the shot as it was
    sheets   text not null,                  -- JSON list of [sheet, edit] behind the form
    quality  text not null,                  -- draft, review, final
    width    integer not null,
    height   integer not null,
    state    text not null,                  -- queued, developing, done, cancelled, failed
    samples  integer not null default 0,     -- per pixel so far
    wanted   integer not null,               -- samples per pixel asked for
    noise    real,                           -- relative, estimated
    seconds  real not null default 0,        -- of rendering so far
    engine   text,                           -- which variant rendered it
    picture  text references asset (sha),    -- newest picture
    problem  text,                           -- a sentence, where it failed
    made     text not null
) strict;
