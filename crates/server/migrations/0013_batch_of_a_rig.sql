-- The last batch that a rig sprayed is found at once: for the rig that is proposed at Set.
create index batch_of_rig on batch (rig_id, number desc) where rig_id is not null;
