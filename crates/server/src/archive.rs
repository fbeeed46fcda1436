//! Exercises as zip files: the exercise file and its files, as they lie in a folder.

use std::io::{Cursor, Read, Write};
use zip::write::SimpleFileOptions;
use zip::{CompressionMethod, ZipArchive, ZipWriter};

/// Most files of an archive, and most bytes of all together.
const MAX_FILES: usize = 200;
const MAX_BYTES: u64 = 2 << 20;

/// Unpacks the files of a zip, in order: no more than so many files and bytes of all together.
fn unzipped(bytes: &[u8], most: usize, limit: u64) -> Result<Vec<(String, Vec<u8>)>, String> {
    let broken = |e: zip::result::ZipError| format!("The zip can't be read ({e}); pack it anew.");
    let mut archive = ZipArchive::new(Cursor::new(bytes)).map_err(broken)?;
    if archive.len() > most {
        return Err(format!("The zip holds {} files; at most {most} are taken at a time.", archive.len()));
    }
    let mut files = Vec::new();
    let mut left = limit;
    for k in 0..archive.len() {
        let mut file = archive.by_index(k).map_err(broken)?;
        let name = file.name().map_err(broken)?.into_owned();
        if !file.is_file() || course::is_litter(&name) {
            continue;
        }
        let mut bytes = Vec::new();
        // What is announced may be less than what comes out.
        let read = file
            .by_ref()
            .take(left + 1)
            .read_to_end(&mut bytes)
            .map_err(|e| format!("`{name}` can't be unpacked: {e}."))?;
        left = left.checked_sub(read as u64).ok_or_else(|| {
            format!("Unpacked, the zip has more than {} MiB; leave out what isn't needed.", limit >> 20)
        })?;
        files.push((name, bytes));
    }
    Ok(files)
}

/// The files of an archive of hand-ins; `limit` bytes of all together.
///
/// # Errors
/// One sentence with what is wrong.
pub(crate) fn files_of(bytes: &[u8], limit: u64) -> Result<Vec<course::Packed>, String> {
    if !bytes.starts_with(b"PK") {
        return Err("This is no zip; pack the students' folders into one and choose that.".into());
    }
    let files = unzipped(bytes, 20_000, limit)?;
    Ok(files.into_iter().map(|(path, bytes)| course::Packed { path, bytes }).collect())
}

/// The exercise file within a zip, with what is in its files; or the text of a file that is no zip.
///
/// # Errors
/// One sentence with what is wrong.
pub(crate) fn unpacked(bytes: &[u8]) -> Result<String, String> {
    if !bytes.starts_with(b"PK") {
        let read = base::SourceFile::decode("exercise.toml", bytes);
        return read
            .map(|f| f.text)
            .map_err(|_| "This is neither a zip nor an exercise file (TOML); choose another.".into());
    }
    let files = unzipped(bytes, MAX_FILES, MAX_BYTES)?.into_iter();
    let text = |(name, bytes): (String, Vec<u8>)| {
        let read = base::SourceFile::decode(&name, &bytes).ok()?;
        Some((name, read.text))
    };
    let files: Vec<(String, String)> = files.filter_map(text).collect();
    let tomls: Vec<&(String, String)> = files.iter().filter(|f| f.0.ends_with(".toml")).collect();
    let own = tomls.iter().find(|f| f.0.rsplit('/').next() == Some("exercise.toml"));
    let Some((name, text)) = own.or(tomls.first()).copied() else {
        return Err("The zip holds no exercise file; it is called `exercise.toml`.".into());
    };
    let folder = name.rsplit_once('/').map_or(String::new(), |(folder, _)| format!("{folder}/"));
    exercise::together(text, &|path| {
        let path = format!("{folder}{path}");
        files.iter().find(|f| f.0 == path).map(|f| f.1.clone())
    })
    .map_err(|e| e.to_string())
}

/// An exercise as a zip: `exercise.toml` and its files beside it.
///
/// # Errors
/// When it can't be written.
pub(crate) fn packed(text: &str) -> Result<Vec<u8>, String> {
    let (bare, files) = exercise::apart(text).map_err(|e| e.to_string())?;
    let options = SimpleFileOptions::default().compression_method(CompressionMethod::Deflated);
    let mut zip = ZipWriter::new(Cursor::new(Vec::new()));
    let all = [("exercise.toml", bare.as_str())].into_iter().chain(files.iter().map(|(n, t)| (n.as_str(), t.as_str())));
    for (name, text) in all {
        zip.start_file(name, options).map_err(|e| e.to_string())?;
        zip.write_all(text.as_bytes()).map_err(|e| e.to_string())?;
    }
    zip.finish().map(Cursor::into_inner).map_err(|e| e.to_string())
}

#[cfg(test)]
#[allow(clippy::unwrap_used, reason = "a failing test stops where it stands")]
mod tests {
    use super::*;

    const TEXT: &str = "title = \"T\"\n[behaviour]\nkind = \"reference\"\nfiles = [\"r.v\"]\n\n[[attachment]]\nname = \"r.v\"\nuse = \"reference\"\n\
        text = \"module r; endmodule\"\n";

    fn zip(files: &[(&str, &[u8])]) -> Vec<u8> {
        let mut zip = ZipWriter::new(Cursor::new(Vec::new()));
        for (name, bytes) in files {
            zip.start_file(*name, SimpleFileOptions::default()).unwrap();
            zip.write_all(bytes).unwrap();
        }
        zip.finish().unwrap().into_inner()
    }

    #[test]
    fn what_is_packed_comes_back() {
        assert_eq!(unpacked(&packed(TEXT).unwrap()).unwrap(), TEXT);
        assert_eq!(unpacked(TEXT.as_bytes()).unwrap(), TEXT);
        let within = zip(&[
            ("lab/exercise.toml", b"[behaviour]\nfiles = [\"key/r.v\"]\n"),
            ("lab/key/r.v", b"module r; endmodule"),
        ]);
        assert!(unpacked(&within).unwrap().contains("module r; endmodule"));
    }

    #[test]
    fn hostile_and_broken_archives_end_in_a_sentence() {
        let told = |bytes: &[u8]| unpacked(bytes).unwrap_err();
        assert!(told(b"PK\x03\x04broken").contains("can't be read"));
        assert!(told(b"\x00\x01\x02\x00\xff").contains("neither a zip"));
        assert!(told(&zip(&[("a.v", b"x")])).contains("no exercise file"));
        let bomb = zip(&[("exercise.toml", b"title = \"T\""), ("big.txt", &vec![b'0'; 3 << 20])]);
        assert!(bomb.len() < 64 << 10 && told(&bomb).contains("more than 2 MiB"));
        let many: Vec<String> = (0..300).map(|k| format!("f{k}")).collect();
        let many: Vec<(&str, &[u8])> = many.iter().map(|n| (n.as_str(), b"".as_slice())).collect();
        assert!(told(&zip(&many)).contains("at most 200"));
        // A path that leads outside is only a name that nothing asks for.
        let outside = zip(&[("../../exercise.toml", b"[behaviour]\nfiles = [\"../../x\"]\n")]);
        assert!(told(&outside).contains("`x`"));
    }
}
