-- A form says what it is checked against, what was let pass and which lines were kept: new fields and edits of one kind of document.
update project set value = '8' where key = 'readable_from';
