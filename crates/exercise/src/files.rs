//! An exercise file and its files: apart, as they lie in a folder, and together, as the application keeps them.

use toml_edit::{Array, ArrayOfTables, DocumentMut, Item, Table, value};

/// Why an exercise file and its files don't come apart, or together.
#[derive(Clone, Debug, PartialEq, Eq, thiserror::Error)]
#[non_exhaustive]
pub enum FilesError {
    /// The exercise file is not valid TOML; what the reader says of it.
    #[error("The exercise file is not valid TOML: {0}.")]
    NotToml(String),
    /// A file that it names is not there.
    #[error("The exercise names the file `{0}`, which is not there; put it beside.")]
    Missing(String),
}

/// The exercise file without what is in its files, and these: name and text.
///
/// # Errors
/// When the file is not valid TOML.
pub fn apart(text: &str) -> Result<(String, Vec<(String, String)>), FilesError> {
    let mut document = parsed(text)?;
    let mut files = Vec::new();
    if let Some(list) = document.get_mut("attachment").and_then(Item::as_array_of_tables_mut) {
        for file in list.iter_mut() {
            let name = file.get("name").and_then(Item::as_str).unwrap_or_default().to_owned();
            if let Some(kept) = file.remove("text").and_then(|t| t.as_str().map(str::to_owned)) {
                files.push((name, kept));
            }
        }
    }
    Ok((document.to_string(), files))
}

/// The exercise file with what is in its files; `find` gives the text of one that lies beside it. Files of the reference that are
/// only named there become attachments.
///
/// # Errors
/// When the file is not valid TOML, or a file that it names is not there.
pub fn together(text: &str, find: &dyn Fn(&str) -> Option<String>) -> Result<String, FilesError> {
    let mut document = parsed(text)?;
    let named = document.get("behaviour").and_then(|b| b.get("files")).and_then(Item::as_array);
    let named: Vec<String> = named.into_iter().flatten().filter_map(|f| f.as_str().map(str::to_owned)).collect();
    let mut list = match document.remove("attachment") {
        Some(Item::ArrayOfTables(list)) => list,
        _ => ArrayOfTables::new(),
    };
    let name_of = |file: &Table| file.get("name").and_then(Item::as_str).unwrap_or_default().to_owned();
    for path in &named {
        let name = bare(path);
        if !list.iter().any(|file| name_of(file) == name) {
            let mut table = Table::new();
            table["name"] = value(name);
            table["use"] = value("reference");
            list.push(table);
        }
    }
    for file in list.iter_mut().filter(|f| !f.contains_key("text")) {
        let name = name_of(file);
        let path = named.iter().find(|p| bare(p) == name).map_or(name.as_str(), String::as_str);
        let found = find(path).or_else(|| find(&name));
        let is_picture = file.get("use").and_then(Item::as_str) == Some("picture");
        match found {
            Some(found) => file["text"] = value(found),
            None if is_picture => {}
            None => return Err(FilesError::Missing(name)),
        }
    }
    if !named.is_empty() {
        document["behaviour"]["files"] = value(named.iter().map(|p| bare(p)).collect::<Array>());
    }
    if !list.is_empty() {
        document["attachment"] = Item::ArrayOfTables(list);
    }
    Ok(document.to_string())
}

/// The exercise file under another title; one that is no TOML stays as it is.
pub fn retitled(text: &str, title: &str) -> String {
    let Ok(mut document) = parsed(text) else { return text.to_owned() };
    document["title"] = value(title);
    document.to_string()
}

fn bare(path: &str) -> &str {
    path.rsplit(['/', '\\']).next().unwrap_or(path)
}

fn parsed(text: &str) -> Result<DocumentMut, FilesError> {
    text.parse().map_err(|e: toml_edit::TomlError| FilesError::NotToml(e.message().to_owned()))
}

#[cfg(test)]
#[allow(clippy::unwrap_used, reason = "a failing test stops where it stands")]
mod tests {
    use super::*;
    use crate::Exercise;

    const FOLDER: &str = "# kept\nformat = \"zesty-gate/exercise/1\"\ntitle = \"T\"\n[[port]]\nname = \"a\"\ndir = \"in\"\n[[port]]\nname = \"y\"\n\
        dir = \"out\"\n[behaviour]\nkind = \"reference\"\nfiles = [\"key/r.v\"]\n[[attachment]]\nname = \"begin.v\"\nuse = \"starter\"\n";

    fn find(path: &str) -> Option<String> {
        match path {
            "key/r.v" => Some("module r(input a, output y); assign y = ~a; endmodule\n".into()),
            "begin.v" => Some("module r(input a, output y); endmodule\n".into()),
            _ => None,
        }
    }

    #[test]
    fn a_folder_becomes_one_file_and_a_folder_again() {
        let one = together(FOLDER, &find).unwrap();
        let nothing = |name: &str| Err(format!("no {name}").into());
        let exercise = Exercise::load(&one, &nothing).unwrap();
        assert_eq!(exercise.table().outputs[0].ones.iter().collect::<Vec<_>>(), [0]);
        assert_eq!(exercise.attachments.len(), 2);
        let (bare, files) = apart(&one).unwrap();
        assert!(bare.starts_with("# kept") && !bare.contains("endmodule"), "{bare}");
        assert_eq!(files.iter().map(|f| f.0.as_str()).collect::<Vec<_>>(), ["begin.v", "r.v"]);
        let again = together(&bare, &|n| files.iter().find(|f| f.0 == n).map(|f| f.1.clone())).unwrap();
        assert_eq!(apart(&again).unwrap(), (bare, files));
    }

    #[test]
    fn a_file_that_is_not_there_is_named() {
        let told = together(FOLDER, &|_| None).unwrap_err().to_string();
        assert!(told.contains("`begin.v`"), "{told}");
        assert!(apart("no toml =").unwrap_err().to_string().contains("not valid TOML"));
    }
}
