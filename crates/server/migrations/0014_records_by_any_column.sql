-- Finished batches are listed by any of their columns, a page at a time, as fast as by their day.
create index batch_finished_by_label on batch (lower(label), id) where state <> 'open';
create index batch_finished_by_product on batch (lower(product), id) where state <> 'open';
create index batch_finished_by_begun on batch (begun, id) where state <> 'open';
create index batch_finished_by_number on batch (number, id) where state <> 'open';
