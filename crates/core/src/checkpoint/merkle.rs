//! A Merkle tree: one short hash over many rows, which changes when any of them does.

use sha2::{Digest, Sha256};

/// The root over leaves, as hexadecimal digits.
///
/// **Formula:** a leaf is `SHA-256(0x00 ‖ row)`, a node `SHA-256(0x01 ‖ left ‖ right)`; the left half is the largest power of two that is
/// smaller than the number of leaves; of no leaves the hash of nothing. **Source:** RFC 6962, section 2.1.
///
/// ```
/// use level_keel_core::checkpoint::root;
/// // The hash of nothing, as the standard says.
/// assert_eq!(root(&[]), "e3b0c44298fc1c149afbf4c8996fb92427ae41e4649b934ca495991b7852b855");
/// ```
pub fn root(rows: &[Vec<u8>]) -> String {
    let leaves: Vec<[u8; 32]> = rows.iter().map(|row| hash(&[&[0], row])).collect();
    hex(&over(&leaves))
}

fn hash(parts: &[&[u8]]) -> [u8; 32] {
    let mut sha = Sha256::new();
    parts.iter().for_each(|part| sha.update(part));
    sha.finalize().into()
}

fn over(leaves: &[[u8; 32]]) -> [u8; 32] {
    match leaves {
        [] => hash(&[]),
        [one] => *one,
        many => {
            let left = many.len().next_power_of_two() / 2;
            let (left, right) = many.split_at(left);
            hash(&[&[1], &over(left), &over(right)])
        }
    }
}

/// Bytes as hexadecimal digits.
pub fn hex(bytes: &[u8]) -> String {
    bytes.iter().map(|b| format!("{b:02x}")).collect()
}

/// Hexadecimal digits as bytes; `None`: they are none, or not so many.
pub fn unhex<const N: usize>(text: &str) -> Option<[u8; N]> {
    if !text.is_ascii() || text.len() != 2 * N {
        return None;
    }
    let mut bytes = [0; N];
    for (at, byte) in bytes.iter_mut().enumerate() {
        *byte = u8::from_str_radix(text.get(2 * at..2 * at + 2)?, 16).ok()?;
    }
    Some(bytes)
}
