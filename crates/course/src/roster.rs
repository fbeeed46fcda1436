//! A roster as a spreadsheet or a school's system exports it: any order of columns, any usual separator and encoding, headings in
//! several languages.

use crate::names::{PersonName, plain, valid_sign_in};
use base::{DecodeProblem, SourceFile};
use std::collections::BTreeMap;

/// Lines that a roster may have.
pub const MOST_PEOPLE: usize = 2_000;

/// A person of a roster.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Entry {
    /// The line, from 1.
    pub line: u64,
    /// Name to sign in with.
    pub sign_in: String,
    /// Their name.
    pub name: PersonName,
    /// Their section; `None` where the roster has no such column.
    pub section: Option<String>,
    /// The school's number; `None` where the roster has no such column.
    pub number: Option<String>,
}

/// A line that is no person, and why.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Remark {
    /// The line, from 1.
    pub line: u64,
    /// What is wrong and what to do.
    pub sentence: String,
}

/// A roster that was read.
#[derive(Clone, Debug, Default, PartialEq, Eq)]
pub struct Roster {
    /// The people, each sign-in name once.
    pub entries: Vec<Entry>,
    /// The other lines.
    pub remarks: Vec<Remark>,
}

/// Why a file is not a roster.
#[derive(Clone, Debug, PartialEq, Eq, thiserror::Error)]
#[non_exhaustive]
pub enum RosterFault {
    /// Nothing in it.
    #[error("The file is empty; export the list again, as CSV.")]
    Empty,
    /// No text.
    #[error("The file is not text; export the list as CSV, not as a workbook.")]
    Binary,
    /// Too long.
    #[error("The file has more than {MOST_PEOPLE} lines; split it by section.")]
    TooLong,
    /// The first line has no names of columns.
    #[error(
        "The first line has to name the columns: a sign-in name (or e-mail, or number), and a name (in one column, or family and \
         given name); it says {0}."
    )]
    Header(String),
}

#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord)]
enum Column {
    SignIn,
    Mail,
    Number,
    Family,
    Given,
    Whole,
    Section,
}

/// Headings without accents, blanks and signs, as school systems of several countries write them (common practice).
const HEADINGS: [(Column, &[&str]); 7] = [
    (
        Column::SignIn,
        &[
            "signin",
            "signinname",
            "login",
            "loginname",
            "username",
            "user",
            "userid",
            "account",
            "netid",
            "benutzername",
            "benutzerkennung",
            "kennung",
            "identifiant",
            "usuario",
            "nomedeutilizador",
            "nomeutente",
            "utente",
            "gebruikersnaam",
            "anvandarnamn",
            "brukernavn",
            "uzytkownik",
        ],
    ),
    (
        Column::Mail,
        &[
            "email",
            "emailaddress",
            "mail",
            "mailaddress",
            "emailadresse",
            "courriel",
            "adressemail",
            "adressedecourriel",
            "correo",
            "correoelectronico",
            "direcciondecorreo",
            "emailadres",
            "epost",
            "indirizzoemail",
        ],
    ),
    (
        Column::Number,
        &[
            "number",
            "studentnumber",
            "studentid",
            "id",
            "idnumber",
            "matriculationnumber",
            "matrikelnummer",
            "matrikelnr",
            "matriculation",
            "matricule",
            "matricula",
            "matricola",
            "numero",
            "numeroetudiant",
            "studentnummer",
            "nummer",
            "nralbumu",
        ],
    ),
    (
        Column::Family,
        &[
            "family",
            "familyname",
            "lastname",
            "surname",
            "nachname",
            "familienname",
            "nom",
            "nomdefamille",
            "apellido",
            "apellidos",
            "cognome",
            "achternaam",
            "apelido",
            "sobrenome",
            "efternamn",
            "etternavn",
            "efternavn",
            "nazwisko",
        ],
    ),
    (
        Column::Given,
        &[
            "given",
            "givenname",
            "givennames",
            "firstname",
            "forename",
            "vorname",
            "vornamen",
            "prenom",
            "prenoms",
            "nombre",
            "nombres",
            "nome",
            "voornaam",
            "fornamn",
            "fornavn",
            "imie",
            "imiona",
        ],
    ),
    (
        Column::Whole,
        &[
            "name",
            "fullname",
            "student",
            "studentname",
            "displayname",
            "names",
            "nomcomplet",
            "nometprenom",
            "nomprenom",
            "nombrecompleto",
            "apellidosynombre",
            "naam",
            "namn",
            "navn",
            "nomecompleto",
            "nomeecognome",
        ],
    ),
    (
        Column::Section,
        &[
            "section",
            "group",
            "labgroup",
            "lab",
            "labsection",
            "class",
            "gruppe",
            "laborgruppe",
            "groupe",
            "grupo",
            "gruppo",
            "groep",
            "grupp",
            "grupa",
            "turno",
            "kurs",
            "seccion",
            "sezione",
        ],
    ),
];

fn column(heading: &str) -> Option<Column> {
    let plain: String = plain(heading).chars().filter(|c| c.is_alphanumeric()).collect();
    HEADINGS.iter().find(|(_, words)| words.contains(&plain.as_str())).map(|(column, _)| *column)
}

/// The character between fields: the usual one that stands most often outside quotes in the first line.
fn separator(first: &str) -> u8 {
    let mut quoted = false;
    let mut counts = [(b';', 0u32), (b'\t', 0), (b',', 0), (b'|', 0)];
    for byte in first.bytes() {
        quoted ^= byte == b'"';
        if let Some((_, count)) = counts.iter_mut().find(|(c, _)| *c == byte && !quoted) {
            *count += 1;
        }
    }
    counts.iter().rev().max_by_key(|(_, count)| *count).map_or(b',', |(c, _)| *c)
}

/// Reads a roster.
///
/// # Errors
/// When the file is no list of people at all; a line that can't be used is a remark.
pub fn read_roster(bytes: &[u8]) -> Result<Roster, RosterFault> {
    let file = SourceFile::decode("roster", bytes).map_err(|problem| match problem {
        DecodeProblem::Empty => RosterFault::Empty,
        DecodeProblem::Binary(_) => RosterFault::Binary,
        DecodeProblem::TooLarge(_) => RosterFault::TooLong,
    })?;
    let (text, before) = body(&file.text);
    let mut reader = csv::ReaderBuilder::new()
        .flexible(true)
        .trim(csv::Trim::All)
        .delimiter(separator(text.lines().next().unwrap_or("")))
        .from_reader(text.as_bytes());
    let headings = reader.headers().cloned().unwrap_or_default();
    let columns = columns(&headings)?;
    let mut roster = Roster::default();
    let mut lines: BTreeMap<String, u64> = BTreeMap::new();
    for (count, record) in reader.records().enumerate() {
        if count >= MOST_PEOPLE {
            return Err(RosterFault::TooLong);
        }
        let Ok(record) = record else { continue };
        // A record is said to begin where the one before it ended, which may be blank lines earlier.
        let start = record.position().map_or(0, |p| usize::try_from(p.byte()).unwrap_or(0));
        let at = start + text.get(start..).map_or(0, |rest| rest.len() - rest.trim_start_matches('\n').len());
        let line = before + 1 + text.get(..at).map_or(0, |t| t.matches('\n').count() as u64);
        let field = |c: Column| columns.get(&c).and_then(|at| record.get(*at)).unwrap_or("").to_owned();
        if record.iter().all(str::is_empty) {
            continue;
        }
        match entry(line, &columns, &field) {
            Err(sentence) => roster.remarks.push(Remark { line, sentence }),
            Ok(entry) => match lines.insert(entry.sign_in.to_lowercase(), line) {
                Some(first) => {
                    let sentence = format!(
                        "Line {first} has the sign-in name {} already; give one of the two another.",
                        entry.sign_in
                    );
                    lines.insert(entry.sign_in.to_lowercase(), first);
                    roster.remarks.push(Remark { line, sentence });
                }
                None => roster.entries.push(entry),
            },
        }
    }
    Ok(roster)
}

/// The text from its headings on, and how many lines stand before: some spreadsheets begin with `sep=;`.
fn body(text: &str) -> (&str, u64) {
    match text.split_once('\n') {
        Some((first, rest)) if plain(first).starts_with("sep=") => (rest, 1),
        _ => (text, 0),
    }
}

fn columns(headings: &csv::StringRecord) -> Result<BTreeMap<Column, usize>, RosterFault> {
    let mut columns: BTreeMap<Column, usize> = BTreeMap::new();
    for (at, heading) in headings.iter().enumerate() {
        if let Some(column) = column(heading) {
            columns.entry(column).or_insert(at);
        }
    }
    use Column as C;
    let has = |columns: &BTreeMap<C, usize>, c: C| columns.contains_key(&c);
    // `Name, Vorname` is a family name with a given one; `Nom` or `Nome` alone is the whole.
    if has(&columns, C::Given) && !has(&columns, C::Family) {
        match columns.remove(&C::Whole) {
            Some(at) => columns.insert(C::Family, at),
            None => columns.remove(&C::Given).and_then(|at| columns.insert(C::Whole, at)),
        };
    } else if has(&columns, C::Family) && !has(&columns, C::Given) && !has(&columns, C::Whole) {
        columns.remove(&C::Family).and_then(|at| columns.insert(C::Whole, at));
    }
    let names_people = has(&columns, C::Whole) || has(&columns, C::Family);
    let signs_in = [C::SignIn, C::Mail, C::Number].into_iter().any(|c| has(&columns, c));
    if names_people && signs_in {
        return Ok(columns);
    }
    let mut said: String = headings.iter().map(|h| format!("`{h}`")).collect::<Vec<_>>().join(", ");
    if said.chars().count() > 120 {
        said = said.chars().take(120).collect::<String>() + "…";
    }
    Err(RosterFault::Header(if said.is_empty() { "nothing".into() } else { said }))
}

fn entry(line: u64, columns: &BTreeMap<Column, usize>, field: &dyn Fn(Column) -> String) -> Result<Entry, String> {
    let (own, mail, number) = (field(Column::SignIn), field(Column::Mail), field(Column::Number));
    let sign_in = [own, mail, number.clone()].into_iter().find(|text| !text.is_empty()).unwrap_or_default();
    let sign_in = valid_sign_in(&sign_in).map_err(|e| e.to_string())?;
    let parts = PersonName::of_parts(&field(Column::Given), &field(Column::Family));
    let name = if parts.whole.is_empty() { PersonName::of_whole(&field(Column::Whole)) } else { parts };
    if name.whole.is_empty() {
        return Err(format!("The person with the sign-in name {sign_in} has no name; give one."));
    }
    if [name.whole.clone(), field(Column::Section), number].iter().any(|text| text.chars().count() > 120) {
        return Err("A field has more than 120 characters; shorten it.".into());
    }
    let given = |c: Column| columns.contains_key(&c).then(|| field(c));
    Ok(Entry { line, sign_in, name, section: given(Column::Section), number: given(Column::Number) })
}
