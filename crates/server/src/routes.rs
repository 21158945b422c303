//! The whole route table on one page.

use crate::problem::Problem;
use crate::{
    acceptance, atomizing, board, books, checkpoints, conditions, delivery, diagnosis, edge, film, find, instruments, labels,
    lists, live, mixing, openapi, parts, people, printing, ratio_check, records, rigs, scales, sheets, shop, stores, trace,
};
use actix_files::{Files, NamedFile};
use actix_web::dev::{HttpServiceFactory, ServiceRequest, ServiceResponse, fn_service};
use actix_web::http::StatusCode;
use actix_web::middleware::from_fn;
use actix_web::{HttpResponse, Responder, get, web};
use std::path::PathBuf;
use utoipa_actix_web::{scope, service_config::ServiceConfig};

/// Largest request body; entries are small.
pub const BODY_BYTES: usize = 256 * 1024;

/// The API, under `/api/v1`.
pub fn api(config: &mut ServiceConfig) {
    let all =
        scope::scope("/api/v1").configure(shop_routes).configure(stores_routes).configure(work_routes).service(openapi_json);
    config.service(all.default_service(web::to(nothing)));
}

/// People, instruments, parts and rigs: what a shop has.
fn shop_routes(config: &mut ServiceConfig) {
    config
        .service(shop::door::door)
        .service(shop::door::open_shop)
        .service(shop::read)
        .service(checkpoints::http::list)
        .service(checkpoints::http::now)
        .service(checkpoints::http::take)
        .service(checkpoints::http::of_schema)
        .service(shop::keep)
        .service(shop::steps)
        .service(people::list)
        .service(people::forms_read)
        .service(people::keep::kept)
        .service(people::keep::create)
        .service(people::keep::change)
        .service(people::sessions::list)
        .service(people::sessions::end)
        .service(people::current)
        .service(people::sign_in)
        .service(people::sign_out)
        .service(people::reads)
        .service(instruments::list)
        .service(instruments::keep_scale)
        .service(instruments::keep_comb)
        .service(instruments::keep_cup)
        .service(instruments::book::keep_gauge)
        .service(instruments::book::one)
        .service(instruments::book::append)
        .service(parts::list)
        .service(parts::csv)
        .service(parts::system::one)
        .service(parts::story::of_part)
        .service(parts::system::plan)
        .service(parts::system::clone)
        .service(parts::pairs::pairs)
        .service(parts::pairs::set_pair)
        .service(rigs::list)
        .service(rigs::one)
        .service(rigs::create)
        .service(rigs::understand)
        .service(rigs::change)
        .service(rigs::book::append)
        .service(rigs::gauges::stream)
        .service(ratio_check::of_rig)
        .service(ratio_check::json)
        .service(ratio_check::csv)
        .service(ratio_check::read_cards)
        .service(ratio_check::ledger_schema)
        .service(rigs::pieces::places)
        .service(rigs::pieces::export)
        .service(rigs::pieces::list)
        .service(rigs::pieces::create)
        .service(rigs::pieces::change)
        .service(atomizing::decoded)
        .service(atomizing::list)
        .service(atomizing::keep)
        .service(atomizing::drop_row);
}

/// Sheets, lists and stores: what is put on, and what is kept of it.
fn stores_routes(config: &mut ServiceConfig) {
    config
        .service(lists::now)
        .service(lists::edit)
        .service(stores::list::list)
        .service(stores::list::csv)
        .service(stores::import::import)
        .service(stores::http::receive)
        .service(stores::http::one)
        .service(stores::http::append)
        .service(stores::places::list)
        .service(stores::places::create)
        .service(stores::places::change)
        .service(stores::places::append)
        .service(stores::files::keep)
        .service(stores::files::get)
        .service(stores::files::shown_small)
        .service(sheets::carry::school_list)
        .service(sheets::carry::import)
        .service(sheets::carry::json)
        .service(sheets::carry::json_schema)
        .service(sheets::carry::between)
        .service(sheets::carry::curves)
        .service(sheets::list)
        .service(sheets::kinds)
        .service(sheets::understand)
        .service(sheets::versions)
        .service(sheets::create)
        .service(sheets::edit)
        .service(sheets::table::csv);
}

/// Books, board and records: what is done; and the sums asked while it is done.
fn work_routes(config: &mut ServiceConfig) {
    config
        .service(film::laps)
        .service(film::pace)
        .service(books::coat_clocks_ics)
        .service(delivery::line)
        .service(conditions::http::list)
        .service(books::http::begin)
        .service(books::proposed::proposed)
        .service(books::http::append)
        .service(books::http::find_entry)
        .service(books::http::batch)
        .service(books::http::log)
        .service(books::http::batch_card)
        .service(books::http::card_json)
        .service(books::http::card_csv)
        .service(printing::http::card)
        .service(checkpoints::http::of_card)
        .service(books::http::card_schema)
        .service(ratio_check::of_batch)
        .service(diagnosis::http::of_batch)
        .service(board::whole)
        .service(board::csv)
        .service(board::day_end)
        .service(board::day_end_csv)
        .service(records::list)
        .service(trace::http::view)
        .service(trace::http::csv)
        .service(printing::http::trace)
        .service(find::find)
        .service(labels::labels)
        .service(records::csv)
        .service(records::xlsx)
        .service(records::trends::trends)
        .service(records::trends::trends_csv)
        .service(records::views::list)
        .service(records::views::keep)
        .service(records::views::forget)
        .service(live::http::stream)
        .service(books::hand_over::hand_over)
        .service(acceptance::http::list)
        .service(acceptance::http::readings)
        .service(acceptance::file::gauge_file)
        .service(scales::http::list)
        .service(scales::http::go_on)
        .service(scales::http::stream)
        .service(scales::http::two_cups)
        .service(mixing::try_way)
        .service(mixing::take_off)
        .service(mixing::mark)
        .service(mixing::lines)
        .service(mixing::strip);
}

/// The OpenAPI document of the table above.
pub fn openapi() -> serde_json::Value {
    openapi::describe(api)
}

/// This document.
#[utoipa::path(tag = "api", responses((status = 200)))]
#[get("/openapi.json")]
async fn openapi_json() -> impl Responder {
    HttpResponse::Ok().json(openapi())
}

/// Any other path of the API: a problem, never the page.
async fn nothing() -> Result<HttpResponse, Problem> {
    Err(Problem::NotFound("address"))
}

/// Built scripts, styles and fonts: their names carry a hash, so they may be kept for ever.
pub fn assets(dir: &str) -> impl HttpServiceFactory + use<> {
    web::scope("/assets").wrap(from_fn(edge::kept_for_ever)).service(Files::new("", PathBuf::from(dir).join("assets")))
}

/// The built page. Paths of the page's own router get `index.html`; a missing asset is a 404.
pub fn page(dir: &str) -> impl HttpServiceFactory + use<> {
    let index = PathBuf::from(dir).join("index.html");
    Files::new("/", dir).index_file("index.html").default_handler(fn_service(move |req: ServiceRequest| {
        let index = index.clone();
        async move {
            let (req, _) = req.into_parts();
            let asset =
                req.path().starts_with("/assets/") || req.path().rsplit('/').next().is_some_and(|last| last.contains('.'));
            let response = match NamedFile::open(&index) {
                Ok(file) if !asset => file.into_response(&req),
                _ => HttpResponse::new(StatusCode::NOT_FOUND),
            };
            Ok(ServiceResponse::new(req, response))
        }
    }))
}

/// Errors of reading a request, as problems.
pub fn json_config() -> web::JsonConfig {
    web::JsonConfig::default().limit(BODY_BYTES).error_handler(|error, _| {
        use actix_web::error::JsonPayloadError as E;
        let too_large = matches!(error, E::Overflow { .. } | E::OverflowKnownLength { .. });
        let (status, text) = if too_large {
            (StatusCode::PAYLOAD_TOO_LARGE, format!("This is more than {} kB. Entries are small.", BODY_BYTES / 1024))
        } else {
            (StatusCode::BAD_REQUEST, format!("This is not the JSON expected here: {error}."))
        };
        Problem::Request(status, text).into()
    })
}

/// A path or query that cannot be read names nothing.
pub fn path_config() -> web::PathConfig {
    web::PathConfig::default().error_handler(|_, _| Problem::NotFound("address").into())
}

/// As for paths.
pub fn query_config() -> web::QueryConfig {
    web::QueryConfig::default().error_handler(|error, _| {
        Problem::Request(StatusCode::BAD_REQUEST, format!("This query cannot be read: {error}.")).into()
    })
}
