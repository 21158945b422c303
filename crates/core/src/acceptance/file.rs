//! Readings out of a file a gauge wrote: a table with a column of films, in any unit that is said, and the zone where there is one.

use crate::limits;
use crate::quantity::{Prefs, QuantityKind, parse};
use crate::refusal::Refusal;

/// Most readings of one file: a part of 4,000 m² by 80/20 asks 420.
pub const MOST_ROWS: usize = 2000;
/// Most signs of one file.
pub const MOST_SIGNS: usize = 200_000;

/// What the column of films may be called; a unit may follow it, in brackets or after a line.
const FILM_HEADS: [&str; 5] = ["film", "thickness", "reading", "dft", "value"];

/// A reading of a file.
#[derive(Debug, Clone, PartialEq)]
pub struct FileReading {
    /// Its row, as a table program counts them.
    pub row: usize,
    /// The zone it names.
    pub zone: Option<String>,
    /// The film.
    pub um: f64,
}

/// Reads a table of films.
///
/// **Rule:** a head row; a column `film` (or thickness, reading, dft, value) whose head says the unit, as `film (mil)` or `film_um`, or a
/// column `unit` that says it row by row; `zone` where there is one; other columns are passed over. Cells are parted by commas,
/// semicolons or tabs, as the head row is. **Errors:** a refusal at `rows[n].column`: a figure that is none, a formula, a unit not known,
/// a film outside its limits, more than [`MOST_ROWS`] rows; nothing is half read. **Units:** µm. **Source:** ours.
///
/// ```
/// use level_keel_core::{acceptance::file::read, quantity::Prefs};
/// let read = read("film (mil),zone\n4.7,hull\n", Prefs::METRIC).unwrap();
/// assert!((read[0].um - 119.38).abs() < 1e-9 && read[0].zone.as_deref() == Some("hull"));
/// ```
pub fn read(text: &str, prefs: Prefs) -> Result<Vec<FileReading>, Refusal> {
    let wrong = |row: usize, column: &str, code: &'static str, text: String| {
        Refusal::bad_input(code, &format!("rows[{row}].{column}"), format!("Row {row}, {column}: {text}"))
    };
    if text.chars().count() > MOST_SIGNS {
        return Err(Refusal::bad_input("too-many", "rows", format!("A file of readings has at most {MOST_ROWS} rows.")));
    }
    let head = text.lines().next().unwrap_or("");
    let parted = [b',', b';', b'\t'].into_iter().max_by_key(|d| head.bytes().filter(|b| b == d).count()).unwrap_or(b',');
    let mut reader = csv::ReaderBuilder::new().delimiter(parted).trim(csv::Trim::All).from_reader(text.as_bytes());
    let heads: Vec<String> = match reader.headers() {
        Ok(heads) => heads.iter().map(|h| h.trim_start_matches('\u{feff}').to_lowercase()).collect(),
        Err(e) => return Err(wrong(1, "heads", "not-understood", e.to_string())),
    };
    let film = heads.iter().position(|h| FILM_HEADS.iter().any(|f| h == f || unit_of(h, f).is_some()));
    let film = film.ok_or_else(|| {
        wrong(1, "heads", "missing", "there is no column of films. Call it film, with its unit: film (µm), film (mil).".into())
    })?;
    let column = |name: &str| heads.iter().position(|h| h == name);
    let said = FILM_HEADS.iter().find_map(|f| unit_of(&heads[film], f));
    let (unit, zone) = (column("unit"), column("zone"));
    if said.is_none() && unit.is_none() {
        let text = "in which unit? Say it in the head, as film (µm) or film (mil), or in a column unit.".into();
        return Err(wrong(1, &heads[film], "missing", text));
    }
    let mut readings = Vec::new();
    for (record, row) in reader.records().zip(2..) {
        let record = record.map_err(|e| match e.kind() {
            csv::ErrorKind::UnequalLengths { .. } => {
                let text =
                    "it has more or fewer cells than the head. Write decimals with a point, or part the cells by semicolons.";
                wrong(row, "row", "not-understood", text.into())
            }
            _ => wrong(row, "row", "not-understood", e.to_string()),
        })?;
        if readings.len() == MOST_ROWS {
            return Err(Refusal::bad_input("too-many", "rows", format!("A file of readings has at most {MOST_ROWS} rows.")));
        }
        let cell = |at: usize| record.get(at).unwrap_or("");
        let figure = cell(film);
        if figure.starts_with(['=', '+', '@']) {
            return Err(wrong(row, "film", "formula", format!("“{figure}” is a formula. Save the figures themselves.")));
        }
        let unit = unit.map(cell).filter(|u| !u.is_empty()).or(said.as_deref());
        let unit = unit.ok_or_else(|| wrong(row, "unit", "missing", "its unit is not said.".into()))?;
        let um = parse(&format!("{figure} {unit}"), QuantityKind::Film, prefs)
            .map_err(|e| wrong(row, "film", "not-understood", format!("{e}.")))?;
        let um = limits::FILM.check("film", um, prefs).map_err(|r| wrong(row, "film", "outside-limits", r.text))?;
        readings.push(FileReading { row, zone: zone.map(cell).filter(|z| !z.is_empty()).map(String::from), um });
    }
    if readings.is_empty() {
        return Err(Refusal::bad_input("empty", "rows", "There is no reading in this table."));
    }
    Ok(readings)
}

/// The unit a head says: `film (mil)`, `film_um`, `film mil`.
fn unit_of(head: &str, film: &str) -> Option<String> {
    let rest = head.strip_prefix(film)?;
    let unit = rest.trim_matches([' ', '_', '(', ')', '[', ']']);
    (!unit.is_empty()).then(|| unit.to_string())
}
