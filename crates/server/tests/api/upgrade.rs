//! A database of an older version is brought to this one: nothing of the log is touched, what it lacked is filled in.

use super::client::applicator;
use level_keel_harness::Shop;
use level_keel_server::books::check_log;
use level_keel_server::serve::bring_up_to_date;
use sqlx::PgPool;

/// What migrations 4 to 15 added, taken away again; the books of lots with it, which an older version has not.
const AS_BEFORE_4: &str = "
    drop trigger entry_never_emptied on entry;
    alter table entry disable trigger entry_append_only;
    delete from entry where book_id in (select id from book where kind in ('lot', 'place', 'rig', 'instrument'));
    alter table entry enable trigger entry_append_only;
    drop table tablet, clock_mark, ratio_proof, batch_sprayed, defect, batch_instrument, waste, saved_view;
    drop index batch_finished_by_ended;
    drop index batch_person_by_person;
    delete from book where kind in ('lot', 'place', 'rig', 'instrument');
    drop table lot_pour, attachment, reading, ready_lists, pair_window;
    alter table lot drop column words;
    alter table lot drop column makers_lot, drop column colour, drop column received, drop column made, drop column expires,
      drop column container_g, drop column containers, drop column counted_g, drop column counted_at, drop column left_g,
      drop column place_id, drop column quarantined, drop column damaged, drop column certified, drop column class;
    drop table place;
    alter table coat drop column sheet_id, drop column method, drop column film_um, drop column film_is, drop column prepare,
      drop column retired;
    alter table batch drop column method, drop column substrate, drop column reckoned_ml, drop column used_ml,
      drop column rig_id, drop column good_set_up, drop column seen_bend,
      drop column job_id, drop column job_coat, drop column repairs_batch, drop column repairs_defect,
      drop column film_pct, drop column ratio_off_pct, drop column use_pct, drop column work_s, drop column first_time;
    drop table rig, piece, tip_row;
    delete from instrument where kind = 'cup';
    alter table instrument drop column due;
    alter table instrument drop column body;
    alter table batch drop column surface_min_c, drop column surface_max_c;
    drop table batch_person;
    drop table sign_in_try;
    alter table book drop column head_seq;
    alter table batch add column record jsonb not null default '{}', add column head_seq bigint not null default 0;
    alter table batch drop column ended, drop column recoat_earliest, drop column recoat_latest;
    drop index batch_open_of_sheet, batch_finished_by_label, batch_finished_by_product, batch_finished_by_begun, batch_finished_by_number;
    drop index batch_part_number, batch_last, batch_begun, batch_label_words, batch_product_words, part_words, lot_words, lot_use_lot;
    drop extension pg_trgm;
    create table sign_in_failure (person_id uuid primary key references person, failures integer not null, locked_until timestamptz);
    alter table zone drop column place, drop column area_m2, drop column area_assumed;
    delete from house where key = 'rows';
    alter table session drop column opened_from;
    drop index session_live;
    alter table sheet_version drop column typed;
    delete from _sqlx_migrations where version >= 4;";

#[sqlx::test]
async fn an_older_database_is_brought_up_with_its_log_untouched(db: PgPool) {
    let shop = Shop::open(db.clone()).await;
    let log = || {
        sqlx::query_as::<_, (uuid::Uuid, i64, String)>("select book_id, seq, hash from entry order by book_id, seq")
            .fetch_all(&db)
    };
    sqlx::raw_sql(AS_BEFORE_4).execute(&db).await.unwrap();
    let before = log().await.unwrap();
    bring_up_to_date(&db).await.unwrap();
    assert_eq!(log().await.unwrap(), before);
    assert!(check_log(&db).await.unwrap().faults.is_empty());
    let filled: i64 = sqlx::query_scalar("select count(*) from batch where ended is not null and recoat_latest > ended")
        .fetch_one(&db)
        .await
        .unwrap();
    assert_eq!(filled, 5, "three finished and two in work are sprayed, and their next coat has a latest time");
    // Zones of an older database have equal shares of what was coated, marked as assumed, in the order they were named.
    let zones: Vec<(i32, Option<f64>, bool, f64, i64)> = sqlx::query_as(
        "select z.place, z.area_m2, z.area_assumed, (e.payload_json ->> 'area_m2')::float8, jsonb_array_length(e.payload_json -> 'zones')::int8
         from zone z join entry e on e.kind = 'begin' and e.payload_json -> 'zones' @> jsonb_build_array(jsonb_build_object('id', z.id))
         order by z.part_id, z.place",
    )
    .fetch_all(&db)
    .await
    .unwrap();
    assert!(!zones.is_empty());
    for (place, area_m2, assumed, whole_m2, count) in zones {
        assert!(place >= 1 && assumed, "{place}");
        assert!((area_m2.unwrap() - whole_m2 / count as f64).abs() < 1e-9, "{area_m2:?} of {whole_m2} in {count}");
    }
    let (_, found) = applicator(&shop).await.get("/records?person=Ansa").await;
    assert_eq!(found["rows"].as_array().unwrap().len(), 3);
    // Once more: nothing to do.
    bring_up_to_date(&db).await.unwrap();
    shop.close().await;
}
