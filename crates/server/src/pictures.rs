//! Pictures that people send, made small and plain: scaled down, turned upright, without the marks of the camera (place, time, owner).

use std::io::Cursor;

use image::codecs::jpeg::JpegEncoder;
use image::imageops::FilterType;
use image::metadata::Orientation;
use image::{DynamicImage, ImageDecoder, ImageFormat, ImageReader, Limits};
use joulethesis_core::error::Error;

/// Longest side of a picture that is kept, and of its thumbnail, pixels.
const LONGEST_SIDE: u32 = 1800;
const THUMBNAIL_SIDE: u32 = 320;
/// Longest side of a picture that is read, pixels, and memory for it, bytes: a large camera's.
const LONGEST_READ: u32 = 16_384;
const MOST_MEMORY: u64 = 400 * 1024 * 1024;
/// Quality of what is kept, percent.
const QUALITY: u8 = 82;
const ACCEPTED: &str = "a photograph as JPEG, PNG or WebP is accepted, up to 16 384 pixels a side";

/// A picture ready to be kept.
#[derive(Debug)]
pub(crate) struct Plain {
    pub(crate) width: u32,
    pub(crate) height: u32,
    /// JPEG.
    pub(crate) picture: Vec<u8>,
    /// JPEG.
    pub(crate) thumbnail: Vec<u8>,
}

/// Reads a picture and makes it small and plain.
///
/// # Errors
/// [`Error::Invalid`] for what is no picture, or one too large to be read.
pub(crate) fn plain(bytes: &[u8]) -> Result<Plain, Error> {
    let refused = |given: String| Error::field("picture", given, ACCEPTED);
    let mut reader = ImageReader::new(Cursor::new(bytes)).with_guessed_format().map_err(|e| refused(e.to_string()))?;
    if !matches!(reader.format(), Some(ImageFormat::Jpeg | ImageFormat::Png | ImageFormat::WebP)) {
        return Err(refused(format!("{} bytes that are no such picture", bytes.len())));
    }
    let mut limits = Limits::default();
    (limits.max_image_width, limits.max_image_height) = (Some(LONGEST_READ), Some(LONGEST_READ));
    limits.max_alloc = Some(MOST_MEMORY);
    reader.limits(limits);
    let unreadable = |e: image::ImageError| refused(format!("a picture that cannot be read ({e})"));
    let mut decoder = reader.into_decoder().map_err(unreadable)?;
    let orientation = decoder.orientation().unwrap_or(Orientation::NoTransforms);
    let mut picture = DynamicImage::from_decoder(decoder).map_err(unreadable)?;
    picture.apply_orientation(orientation);
    let whole = smaller(&picture, LONGEST_SIDE);
    let thumbnail = jpeg(&smaller(&whole, THUMBNAIL_SIDE)).map_err(unreadable)?;
    Ok(Plain { width: whole.width(), height: whole.height(), picture: jpeg(&whole).map_err(unreadable)?, thumbnail })
}

/// Scaled down to a longest side; never up.
fn smaller(picture: &DynamicImage, side: u32) -> DynamicImage {
    if picture.width().max(picture.height()) <= side {
        return picture.clone();
    }
    picture.resize(side, side, FilterType::Triangle)
}

/// As JPEG; what was seen through stands on white.
fn jpeg(picture: &DynamicImage) -> Result<Vec<u8>, image::ImageError> {
    let rgba = picture.to_rgba8();
    let mut flat = image::RgbImage::new(rgba.width(), rgba.height());
    for (to, from) in flat.pixels_mut().zip(rgba.pixels()) {
        let [r, g, b, a] = from.0;
        let over = |c: u8| ((u32::from(c) * u32::from(a) + 255 * (255 - u32::from(a))) / 255) as u8;
        to.0 = [over(r), over(g), over(b)];
    }
    let mut out = Vec::new();
    JpegEncoder::new_with_quality(&mut out, QUALITY).encode_image(&flat)?;
    Ok(out)
}
