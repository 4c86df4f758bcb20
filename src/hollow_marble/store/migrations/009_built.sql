-- A recipe builds solids of curves: new steps and edits of one kind of document.
update project set value = '9' where key = 'readable_from';
