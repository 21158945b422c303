//! A card or a trace on paper. The job says what is printed; the answer is PDF/A-3b with the data attached.
//!
//! Everything that is judged comes with the job: this program sets type and reckons nothing. It reads no file and no network: typefaces
//! and layouts are part of it.

mod readable;

use base64::Engine;
use base64::prelude::BASE64_STANDARD;
use jiff::Timestamp;
use jiff::tz::TimeZone;
use readable::readable;
use serde::Deserialize;
use serde_json::{Value, json};
use std::collections::BTreeMap;
use typst::foundations::Smart;
use typst_as_lib::TypstEngine;
use typst_layout::PagedDocument;
use typst_pdf::{PdfOptions, PdfStandard, PdfStandards};

const FONTS: [&[u8]; 4] = [
    include_bytes!("../fonts/AtkinsonHyperlegibleNext-Regular.ttf"),
    include_bytes!("../fonts/AtkinsonHyperlegibleNext-Bold.ttf"),
    include_bytes!("../fonts/AtkinsonHyperlegibleMono-Regular.ttf"),
    include_bytes!("../fonts/AtkinsonHyperlegibleMono-Bold.ttf"),
];
const COMMON: &str = include_str!("../templates/common.typ");
const CARD: &str = include_str!("../templates/card.typ");
const TRACE: &str = include_str!("../templates/trace.typ");

/// A card takes two pages at the most.
pub const CARD_PAGES: usize = 2;

/// Rows of one list that a card shows, from the fullest to the barest, until it fits.
const ROWS: [usize; 5] = [60, 24, 12, 6, 3];

/// What is printed.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Deserialize)]
#[serde(rename_all = "snake_case")]
pub enum What {
    /// The card of a batch, on one or two pages.
    Card,
    /// A recall list, on as many as it takes.
    Trace,
}

/// The code on a card, as the label says it: dots a side, and the dark ones as the path of an SVG.
#[derive(Debug, Clone, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Code {
    /// Dots a side, with its quiet zone.
    pub dots: u32,
    /// The dark ones.
    pub path: String,
}

/// The data that go along inside the document.
#[derive(Debug, Clone, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Attached {
    /// Name of the file.
    pub name: String,
    /// `application/json` or `text/csv`.
    pub mime: String,
    /// What it says.
    pub text: String,
}

/// A job for the printer.
#[derive(Debug, Clone, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Job {
    /// What is printed.
    pub what: What,
    /// The card, or the trace, as the server tells it to a page.
    pub document: Value,
    /// The zone of the shop: every instant is printed in it.
    pub zone: String,
    /// When it was made: of a signed card its last signature, so that the same card is the same file.
    pub made: Timestamp,
    /// `a4` or `us-letter`.
    pub paper: String,
    /// A scan of it opens the card.
    #[serde(default)]
    pub code: Option<Code>,
    /// The newest checkpoint the card is covered by, in words.
    #[serde(default)]
    pub checkpoint: Option<String>,
    /// Photos by their hash: PNG or JPEG, in base64.
    #[serde(default)]
    pub photos: BTreeMap<String, String>,
    /// What goes along.
    pub attached: Attached,
}

/// Why nothing was printed.
#[derive(Debug, thiserror::Error)]
#[allow(missing_docs)]
pub enum PrintError {
    #[error("no zone is called {0}")]
    Zone(String),
    #[error("a photo is not base64: {0}")]
    Photo(#[from] base64::DecodeError),
    #[error("the layout does not take it: {0}")]
    Layout(String),
    #[error("it does not fit on {CARD_PAGES} pages")]
    TooLong,
}

/// Sets a job in type.
///
/// **Errors:** a zone nobody knows, a photo that is none, a layout that does not take the document, a card that fits on no two pages.
pub fn print(job: &Job) -> Result<Vec<u8>, PrintError> {
    let zone = TimeZone::get(&job.zone).map_err(|_| PrintError::Zone(job.zone.clone()))?;
    let mut document = job.document.clone();
    readable(&mut document, &zone);
    let set = |rows: usize| set(job, &document, &zone, rows);
    let pages = match job.what {
        What::Trace => set(usize::MAX)?,
        What::Card => {
            let mut fitting = None;
            for rows in ROWS {
                let pages = set(rows)?;
                if pages.pages().len() <= CARD_PAGES {
                    fitting = Some(pages);
                    break;
                }
            }
            fitting.ok_or(PrintError::TooLong)?
        }
    };
    let standards = PdfStandards::new(&[PdfStandard::A_3b]).map_err(|e| PrintError::Layout(e.message().to_string()))?;
    let options = PdfOptions {
        ident: Smart::Custom(job.attached.name.clone()),
        creator: Smart::Custom(Some("Level Keel".into())),
        standards,
        ..PdfOptions::default()
    };
    typst_pdf::pdf(&pages, &options).map_err(|errors| PrintError::Layout(said(errors.iter().map(|e| e.message.to_string()))))
}

fn said(errors: impl Iterator<Item = String>) -> String {
    errors.collect::<Vec<_>>().join("; ")
}

/// One setting, with so many rows of each list.
fn set(job: &Job, document: &Value, zone: &TimeZone, rows: usize) -> Result<PagedDocument, PrintError> {
    let made = job.made.to_zoned(zone.clone());
    let told = json!({
        "document": document,
        "paper": job.paper,
        "code": job.code.as_ref().map(|_| "/code.svg"),
        "checkpoint": job.checkpoint,
        "photos": job.photos.keys().map(|sha| (sha.clone(), format!("/{sha}"))).collect::<BTreeMap<_, _>>(),
        "rows": rows.min(1_000_000),
        "attached": { "name": job.attached.name, "mime": job.attached.mime },
        "made": {
            "year": made.year(), "month": made.month(), "day": made.day(),
            "hour": made.hour(), "minute": made.minute(), "second": made.second(),
            "said": made.strftime("%Y-%m-%d %H:%M").to_string(), "zone": job.zone,
        },
    });
    let mut files: Vec<(String, Vec<u8>)> = vec![
        ("/job.json".into(), told.to_string().into_bytes()),
        (format!("/{}", job.attached.name), job.attached.text.clone().into_bytes()),
    ];
    if let Some(code) = &job.code {
        let svg = format!(
            "<svg xmlns=\"http://www.w3.org/2000/svg\" viewBox=\"0 0 {d} {d}\"><path d=\"{}\" fill=\"#000\"/></svg>",
            code.path,
            d = code.dots
        );
        files.push(("/code.svg".into(), svg.into_bytes()));
    }
    for (sha, photo) in &job.photos {
        files.push((format!("/{sha}"), BASE64_STANDARD.decode(photo)?));
    }
    let layout = match job.what {
        What::Card => CARD,
        What::Trace => TRACE,
    };
    let engine = TypstEngine::builder()
        .main_file(layout)
        .fonts(FONTS)
        .with_static_source_file_resolver([("/common.typ", COMMON)])
        .with_static_file_resolver(files.iter().map(|(name, bytes)| (name.as_str(), bytes.as_slice())))
        .build();
    engine.compile().output.map_err(|e| PrintError::Layout(e.to_string()))
}
