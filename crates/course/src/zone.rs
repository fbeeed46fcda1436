//! Times as people of a course say them: on the clock of its time zone.

use jiff::Timestamp;
use jiff::civil::DateTime;
use jiff::tz::{AmbiguousOffset, TimeZone};

/// The time zone of a course.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Zone(TimeZone);

/// Why a time or a zone can't be used.
#[derive(Clone, Debug, PartialEq, Eq, thiserror::Error)]
pub enum ZoneError {
    /// No such zone.
    #[error("`{0}` is no time zone; write its name in the tz database, such as Europe/Vienna.")]
    Unknown(String),
    /// No time of day.
    #[error("`{0}` is no time; write it as 2027-03-12T17:00.")]
    NoTime(String),
    /// The clocks are put forward over it.
    #[error("{time} does not exist in {zone}: the clocks are put forward over it; choose another time.")]
    Skipped {
        /// The time as it was said.
        time: String,
        /// Where.
        zone: String,
    },
}

impl Default for Zone {
    /// The machine's own.
    fn default() -> Self {
        let zone = TimeZone::system();
        Self(if zone.iana_name().is_some() { zone } else { TimeZone::UTC })
    }
}

impl Zone {
    /// A zone by its name in the tz database; the machine's own for an empty one.
    ///
    /// # Errors
    /// [`ZoneError::Unknown`].
    pub fn named(name: &str) -> Result<Self, ZoneError> {
        if name.trim().is_empty() {
            return Ok(Self::default());
        }
        TimeZone::get(name.trim()).map(Self).map_err(|_| ZoneError::Unknown(name.trim().to_owned()))
    }

    /// Its name in the tz database.
    pub fn name(&self) -> &str {
        match self.0.iana_name() {
            // What machines are set to, by the name that people know.
            None | Some("Etc/UTC" | "Etc/UCT" | "UCT") => "UTC",
            Some(name) => name,
        }
    }

    /// What its clocks show at a time (seconds since 1970): `2027-03-12T17:00`, with seconds where there are some. Empty for times
    /// that no calendar has.
    pub fn shows(&self, at: i64) -> String {
        let Ok(time) = Timestamp::from_second(at) else { return String::new() };
        let form = if at.rem_euclid(60) == 0 { "%Y-%m-%dT%H:%M" } else { "%Y-%m-%dT%H:%M:%S" };
        self.0.to_datetime(time).strftime(form).to_string()
    }

    /// When its clocks show a time, in seconds since 1970; the first time of two where they are put back over it. A time with an
    /// offset of its own, such as `2027-03-12T16:00Z`, is that time.
    ///
    /// # Errors
    /// [`ZoneError::NoTime`], or [`ZoneError::Skipped`] where they never do.
    pub fn when(&self, time: &str) -> Result<i64, ZoneError> {
        if let Ok(exact) = time.trim().parse::<Timestamp>() {
            return Ok(exact.as_second());
        }
        let no_time = || ZoneError::NoTime(time.to_owned());
        let civil: DateTime = time.trim().parse().map_err(|_| no_time())?;
        let found = self.0.to_ambiguous_timestamp(civil);
        if matches!(found.offset(), AmbiguousOffset::Gap { .. }) {
            return Err(ZoneError::Skipped { time: time.trim().replace('T', " "), zone: self.name().to_owned() });
        }
        found.earlier().map(Timestamp::as_second).map_err(|_| no_time())
    }
}

#[cfg(test)]
#[allow(clippy::unwrap_used, reason = "a failing test stops where it stands")]
mod tests {
    use super::*;

    /// Offsets and changes of the tz database of IANA: central Europe is at UTC+1, in summer at UTC+2; in 2027 it changes on
    /// 28 March and 31 October, at 01:00 UTC (directive 2000/84/EC: the last Sundays). Nepal is at UTC+5:45.
    #[test]
    fn clocks_show_what_the_tz_database_says() {
        let vienna = Zone::named("Europe/Vienna").unwrap();
        let at = |text: &str| text.parse::<Timestamp>().unwrap().as_second();
        assert_eq!(vienna.shows(at("2027-01-12T16:00:00Z")), "2027-01-12T17:00");
        assert_eq!(vienna.shows(at("2027-01-12T16:00:09Z")), "2027-01-12T17:00:09");
        assert_eq!(vienna.shows(at("2027-07-12T15:00:00Z")), "2027-07-12T17:00");
        assert_eq!(vienna.when("2027-01-12T17:00"), Ok(at("2027-01-12T16:00:00Z")));
        assert_eq!(vienna.when("2027-07-12T17:00"), Ok(at("2027-07-12T15:00:00Z")));
        // The same hour on the clock a day after the change is 23 hours later.
        let days = vienna.when("2027-03-28T17:00").unwrap() - vienna.when("2027-03-27T17:00").unwrap();
        assert_eq!(days, 23 * 3600);
        let kathmandu = Zone::named(" Asia/Kathmandu ").unwrap();
        assert_eq!(kathmandu.shows(at("2027-01-12T16:00:00Z")), "2027-01-12T21:45");
    }

    #[test]
    fn times_that_are_not_there_or_twice_are_told_or_the_first() {
        let vienna = Zone::named("Europe/Vienna").unwrap();
        let told = vienna.when("2027-03-28T02:30").unwrap_err().to_string();
        assert!(told.starts_with("2027-03-28 02:30 does not exist in Europe/Vienna"), "{told}");
        let first = "2027-10-31T00:30:00Z".parse::<Timestamp>().unwrap().as_second();
        assert_eq!(vienna.when("2027-10-31T02:30"), Ok(first));
        assert_eq!(vienna.when("2027-10-31T00:30Z"), Ok(first));
        assert_eq!(vienna.when("tomorrow"), Err(ZoneError::NoTime("tomorrow".into())));
        assert_eq!(Zone::named("Packhouse/North"), Err(ZoneError::Unknown("Packhouse/North".into())));
        assert_eq!(vienna.shows(i64::MAX), "");
        // Without a name there is one all the same.
        assert!(Zone::named(Zone::named("").unwrap().name()).is_ok());
    }

    #[test]
    fn what_the_clocks_show_is_when_they_show_it() {
        for name in ["UTC", "Europe/Vienna", "America/St_Johns", "Pacific/Chatham", "Asia/Kathmandu"] {
            let zone = Zone::named(name).unwrap();
            // A year in steps of 7 h 13 min; hours that are there twice come back as their first.
            for k in 0..1200 {
                let at = 1_798_761_600 + k * 25_980;
                let again = zone.when(&zone.shows(at)).unwrap();
                assert!(again == at || again == at - 3600, "{name} {at}");
            }
        }
    }
}
