//! The folder: the key, and the files in their order.

use jiff::Timestamp;
use level_keel_core::checkpoint::{Checkpoint, Rows, hex, unhex};
use rand::Rng;
use std::fs::{self, File, OpenOptions};
use std::io::{self, Write};
use std::os::unix::fs::{DirBuilderExt, OpenOptionsExt};
use std::path::{Path, PathBuf};

const KEY: &str = "checkpoint.key";

/// A file of the folder, by its name.
#[derive(Debug, Clone)]
pub struct Kept {
    /// Its number.
    pub number: u64,
    /// When it was made.
    pub made: Timestamp,
    /// Where it lies.
    pub path: PathBuf,
}

/// The files, oldest first. The name says number and instant: `000012_2026-12-01T18.05.33.123456789Z.json`.
pub fn names(folder: &Path) -> io::Result<Vec<Kept>> {
    let mut all: Vec<Kept> = fs::read_dir(folder)?.filter_map(|f| kept(&f.ok()?.path())).collect();
    all.sort_by_key(|k| k.number);
    Ok(all)
}

fn kept(path: &Path) -> Option<Kept> {
    let (number, made) = path.file_name()?.to_str()?.strip_suffix(".json")?.split_once('_')?;
    let (day, time) = made.split_once('T')?;
    let (hour, rest) = time.split_once('.')?;
    let (minute, second) = rest.split_once('.')?;
    let made = format!("{day}T{hour}:{minute}:{second}").parse().ok()?;
    Some(Kept { number: number.parse().ok()?, made, path: path.to_path_buf() })
}

fn name_of(checkpoint: &Checkpoint) -> String {
    let s = &checkpoint.statement;
    format!("{:06}_{}.json", s.number, s.made.to_string().replace(':', "."))
}

/// Reads one.
pub fn read(path: &Path) -> io::Result<Checkpoint> {
    serde_json::from_slice(&fs::read(path)?).map_err(|e| io::Error::new(io::ErrorKind::InvalidData, e))
}

/// Reads all, oldest first; one that cannot be read stands with its reason.
pub fn read_all(folder: &Path) -> io::Result<Vec<(Kept, io::Result<Checkpoint>)>> {
    Ok(names(folder)?.into_iter().map(|kept| (kept.clone(), read(&kept.path))).collect())
}

/// The key of this server; made once, readable by its owner alone.
fn key(folder: &Path) -> io::Result<[u8; 32]> {
    let at = folder.join(KEY);
    match OpenOptions::new().write(true).create_new(true).mode(0o600).open(&at) {
        Ok(mut file) => {
            let mut key = [0; 32];
            rand::rng().fill_bytes(&mut key);
            file.write_all(hex(&key).as_bytes())?;
            file.sync_all()?;
            Ok(key)
        }
        Err(e) if e.kind() == io::ErrorKind::AlreadyExists => {
            let text = fs::read_to_string(&at)?;
            unhex(text.trim()).ok_or_else(|| io::Error::new(io::ErrorKind::InvalidData, "the key is no key"))
        }
        Err(e) => Err(e),
    }
}

/// The public key of the folder, where it has one.
pub fn public_key(folder: &Path) -> Option<String> {
    let key: [u8; 32] = unhex(fs::read_to_string(folder.join(KEY)).ok()?.trim())?;
    Some(Checkpoint::sign(Rows::default(), Timestamp::UNIX_EPOCH, None, &key).key)
}

/// Signs what was read after the newest file, and keeps it: whole or not at all.
pub fn sign_and_keep(folder: &Path, rows: Rows, made: Timestamp) -> io::Result<Checkpoint> {
    fs::DirBuilder::new().recursive(true).mode(0o700).create(folder)?;
    let newest = names(folder)?.pop().map(|kept| read(&kept.path)).transpose()?;
    let checkpoint = Checkpoint::sign(rows, made, newest.as_ref().map(|c| &c.statement), &key(folder)?);
    let (draft, at) = (folder.join("draft"), folder.join(name_of(&checkpoint)));
    let mut file = OpenOptions::new().write(true).create(true).truncate(true).mode(0o600).open(&draft)?;
    file.write_all(&serde_json::to_vec(&checkpoint).map_err(io::Error::other)?)?;
    file.sync_all()?;
    fs::rename(&draft, &at)?;
    File::open(folder)?.sync_all()?;
    Ok(checkpoint)
}
