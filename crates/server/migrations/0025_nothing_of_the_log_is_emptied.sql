-- Why: the trigger refused a change and a deletion of entries, row by row; emptying the whole table fires none of those.
create trigger entry_never_emptied before truncate on entry
    for each statement execute function entry_is_append_only();
