-- The indexes by which words are found in the names of parts, in labels and products of batches put new words on a list that each
-- search reads through, until a vacuum sorts it in. With many thousand rows since the last vacuum a search by part took 17 ms of
-- which 13 were that list. A part or a batch is begun now and then, and sorting it in at once costs nothing one feels. Lots keep
-- their list: they come in by the table of fifty thousand.
alter index part_words set (fastupdate = off);
alter index batch_label_words set (fastupdate = off);
alter index batch_product_words set (fastupdate = off);
select gin_clean_pending_list('part_words'), gin_clean_pending_list('batch_label_words'), gin_clean_pending_list('batch_product_words');
