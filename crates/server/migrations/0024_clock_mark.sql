-- Why: a host's clock may be wrong at a start, or set while the server is down. How far the shop had come is kept, with what both
-- clocks of the host read then, so that time goes on from there and no paint grows younger. One row.
create table clock_mark (
    one boolean primary key default true check (one),
    shop timestamptz not null,
    wall timestamptz not null,
    boot_s double precision not null,
    boot text not null
);
