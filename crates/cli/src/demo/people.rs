//! The invented people of the packhouse course: name, sign-in name, section.

pub(super) const INSTRUCTOR: (&str, &str) = ("Ines Quillaby", "ines");
pub(super) const ASSISTANT: (&str, &str) = ("Rowan Pithers", "rowan");

pub(super) const STUDENTS: &[(&str, &str, &str)] = &[
    ("Abel Zestwick", "abel", "Morning"),
    ("Bryony Pomelo", "bryony", "Morning"),
    ("Casimir Tangelo", "casimir", "Morning"),
    ("Della Yuzuki", "della", "Morning"),
    ("Emeka Limewood", "emeka", "Morning"),
    ("Farah Kumquist", "farah", "Morning"),
    ("Gideon Rindle", "gideon", "Morning"),
    ("Hanne Satsumay", "hanne", "Morning"),
    ("Idris Citronel", "idris", "Morning"),
    ("Juno Pulperton", "juno", "Morning"),
    ("Kofi Bergamo", "kofi", "Morning"),
    ("Linnea Orangefeld", "linnea", "Morning"),
    ("Milo Segmentine", "milo", "Evening"),
    ("Nadia Clementson", "nadia", "Evening"),
    ("Otis Marmalade", "otis", "Evening"),
    ("Priya Sourgrove", "priya", "Evening"),
    ("Quentin Peelwright", "quentin", "Evening"),
    ("Rosa Mandarinho", "rosa", "Evening"),
    ("Soren Grapevale", "soren", "Evening"),
    ("Tamsin Uglifruit", "tamsin", "Evening"),
    ("Umar Sweetlime", "umar", "Evening"),
    ("Vesna Blossomir", "vesna", "Evening"),
    ("Wendel Juiceman", "wendel", "Evening"),
    ("Ximena Cratewood", "ximena", "Evening"),
];
