-- Why: a shop needs a scale and a comb before its first batch. These are common ones, to be edited when
-- the shop's own are known; a pour keeps the resolution it was read with.
insert into instrument (id, kind, name, resolution, teeth_um) values
    ('0191d000-0000-7000-8000-000000000001', 'scale', 'Bench scale', 1, '{}'),
    ('0191d000-0000-7000-8000-000000000002', 'scale', 'Fine scale', 0.1, '{}'),
    ('0191d000-0000-7000-8000-000000000003', 'comb', 'Comb 1 to 30 mil', 25.4,
     '{25.4,50.8,76.2,101.6,127,152.4,177.8,203.2,228.6,254,304.8,355.6,406.4,457.2,508,558.8,609.6,660.4,711.2,762}');
