//! Files of the commands: hand-ins, and exercises with what lies beside them.

use crate::{Unusable, report};
use elab::HandInFile;
use exercise::{Exercise, NotBeside};
use std::cell::RefCell;
use std::io::Read;
use std::path::Path;
use worker::{SentExercise, SentFile};

/// Reads at most one byte more than the check accepts: a huge file is told as such without being read whole.
fn read_limited(path: &Path) -> std::io::Result<Vec<u8>> {
    let mut bytes = Vec::new();
    let file = std::fs::File::open(path)?;
    let size = file.metadata()?.len();
    file.take(base::SourceFile::MAX_BYTES as u64 + 1).read_to_end(&mut bytes)?;
    let size = usize::try_from(size).unwrap_or(usize::MAX).min(1 << 30);
    if size > bytes.len() {
        bytes.resize(size, 0);
    }
    Ok(bytes)
}

fn read(path: &Path) -> Result<Vec<u8>, Unusable> {
    read_limited(path).map_err(|e| Unusable(format!("{}: can't be read: {e}; check the path.", path.display())))
}

pub(crate) fn hand_in_file(path: &Path) -> Result<HandInFile, Unusable> {
    Ok(HandInFile { name: path.display().to_string(), bytes: read(path)? })
}

/// Reads an exercise and the files beside it.
pub(crate) fn load_exercise(path: &Path) -> Result<Exercise, Unusable> {
    load_to_send(path).map(|(exercise, _)| exercise)
}

/// The same, also as it is sent to a worker.
pub(crate) fn load_to_send(path: &Path) -> Result<(Exercise, SentExercise), Unusable> {
    let bytes = read(path)?;
    let text = String::from_utf8(bytes)
        .map_err(|_| Unusable(format!("{}: is not a UTF-8 text; save it as one.", path.display())))?;
    let folder = path.parent().unwrap_or(Path::new("")).to_owned();
    let sent = RefCell::new(SentExercise::alone(text.clone()));
    let beside = |name: &str| -> Result<Vec<u8>, NotBeside> {
        let relative = Path::new(name);
        if relative.is_absolute() || name.split(['/', '\\']).any(|part| part == "..") {
            let sentence = format!("`{name}` lies outside the exercise's folder; put it beside the exercise file.");
            return Err(NotBeside(sentence));
        }
        let bytes =
            read_limited(&folder.join(relative)).map_err(|e| NotBeside(format!("`{name}` can't be read: {e}.")))?;
        sent.borrow_mut().beside.push(SentFile::new(name, bytes.clone()));
        Ok(bytes)
    };
    let exercise = Exercise::load(&text, &beside).map_err(|e| Unusable(format!("{}: {e}", path.display())))?;
    for warning in &exercise.warnings {
        report::to_people(&format!("{}: {warning}", path.display()));
    }
    Ok((exercise, sent.into_inner()))
}
