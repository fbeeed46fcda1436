//! What holds for the files of a hand-in, however they come.

/// Most files of a hand-in.
pub(crate) const MOST_FILES: usize = 64;

/// The last part of a path, without characters that mean something to a file system or a terminal.
pub(crate) fn plain_name(given: Option<&str>, default: &str) -> String {
    let last = given.unwrap_or(default).rsplit(['/', '\\']).next().unwrap_or(default);
    let clean: String = last.chars().filter(|c| !c.is_control() && !"<>:\"|?*".contains(*c)).take(100).collect();
    if clean.trim_matches('.').is_empty() { default.into() } else { clean }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn names_lose_folders_and_what_means_something_elsewhere() {
        assert_eq!(plain_name(Some("lab/../../etc/top.v"), "d.v"), "top.v");
        assert_eq!(plain_name(Some("C:\\lab\\top.v"), "d.v"), "top.v");
        assert_eq!(plain_name(Some("to\u{1b}[31mp<1>.v"), "d.v"), "to[31mp1.v");
        assert_eq!(plain_name(Some(".."), "d.v"), "d.v");
        assert_eq!(plain_name(None, "d.v"), "d.v");
        assert_eq!(plain_name(Some(&"a".repeat(300)), "d.v").len(), 100);
    }
}
