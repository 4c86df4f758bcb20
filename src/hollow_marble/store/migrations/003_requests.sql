-- Requests that moved a document, by the name their sender gave them: one sent again, because its answer was lost on the way,
-- is answered and not carried out twice. Only the newest are kept.
create table request (
    number   integer primary key,
    id       text not null unique,
    document text not null references document (id)
) strict;
