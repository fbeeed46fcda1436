//! Makes sure that the folder of built web files is there to be embedded, empty when it was not built yet.

fn main() {
    let folder = std::path::Path::new("../../web/dist");
    // A failure shows itself right after, when the folder is embedded.
    let _ = std::fs::create_dir_all(folder);
    println!("cargo:rerun-if-changed=../../web/dist");
}
