//! Photos: decoded within bounds, turned upright, written anew without what a camera adds, and kept by their hash with a small picture.

use crate::problem::Problem;
use image::codecs::jpeg::JpegEncoder;
use image::{DynamicImage, ImageDecoder, ImageFormat, ImageReader, Limits};
use level_keel_core::refusal::Refusal;
use std::io::Cursor;

/// Longest side of a photo that is taken in; a camera of a hundred megapixels has less.
const MOST_SIDE: u32 = 12_000;
/// Memory a decoder may take.
const MOST_DECODED: u64 = 512 * 1024 * 1024;
/// Longest side of a photo that is kept: a tablet shows no more.
const KEPT_SIDE: u32 = 2400;
/// Longest side of the small picture.
const SMALL_SIDE: u32 = 320;
/// Quality of the JPEG that is kept, and of the small picture.
const QUALITY: (u8, u8) = (88, 80);

/// A photo as it is kept.
pub struct Photo {
    /// Its media type.
    pub media: &'static str,
    /// The picture, upright and without metadata.
    pub bytes: Vec<u8>,
    /// The small picture, a JPEG.
    pub small: Vec<u8>,
}

/// Writes a photo anew: a PNG stays one, JPEG and WebP become JPEG.
///
/// **Errors:** a refusal at `file`: broken, or larger than a camera makes them.
pub fn anew(bytes: &[u8]) -> Result<Photo, Problem> {
    let broken = |why: String| Refusal::bad_input("broken-photo", "file", format!("This photo cannot be read: {why}."));
    let mut reader = ImageReader::new(Cursor::new(bytes)).with_guessed_format().map_err(|e| broken(e.to_string()))?;
    let format = reader.format();
    let mut limits = Limits::default();
    limits.max_image_width = Some(MOST_SIDE);
    limits.max_image_height = Some(MOST_SIDE);
    limits.max_alloc = Some(MOST_DECODED);
    reader.limits(limits);
    let mut decoder = reader.into_decoder().map_err(|e| broken(e.to_string()))?;
    let turned = decoder.orientation().map_err(|e| broken(e.to_string()))?;
    let mut picture = DynamicImage::from_decoder(decoder).map_err(|e| broken(e.to_string()))?;
    picture.apply_orientation(turned);
    if picture.width().max(picture.height()) > KEPT_SIDE {
        picture = picture.resize(KEPT_SIDE, KEPT_SIDE, image::imageops::FilterType::Triangle);
    }
    let fault = |e: image::ImageError| Problem::Fault(e.to_string());
    let jpeg = |picture: &DynamicImage, quality: u8| {
        let mut out = Vec::new();
        JpegEncoder::new_with_quality(&mut out, quality).encode_image(&picture.to_rgb8()).map(|()| out).map_err(fault)
    };
    let small = jpeg(&picture.thumbnail(SMALL_SIDE, SMALL_SIDE), QUALITY.1)?;
    if format == Some(ImageFormat::Png) {
        let mut out = Cursor::new(Vec::new());
        picture.write_to(&mut out, ImageFormat::Png).map_err(fault)?;
        return Ok(Photo { media: "image/png", bytes: out.into_inner(), small });
    }
    Ok(Photo { media: "image/jpeg", bytes: jpeg(&picture, QUALITY.0)?, small })
}
