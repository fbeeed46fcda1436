//! Counting a board's clock down to a slower rate.

use serde::{Deserialize, Serialize};

/// How a counter makes a frequency from a clock.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "wire", derive(utoipa::ToSchema))]
pub struct DividerPlan {
    /// What it is for: `toggle`, an output that is turned over at each terminal count, or `pulse`, one that is high for
    /// one cycle at each.
    pub kind: String,
    /// The count at which it begins anew: F / (2 f) - 1 for an output that is turned over, F / f - 1 for a pulse.
    pub terminal_count: u64,
    /// The same as a sum.
    pub formula: String,
    /// Bits of the counter.
    pub width: u32,
    /// Clock cycles of a period.
    pub period_cycles: u64,
    /// What comes out, in Hz.
    pub achieved_hz: f64,
    /// How far that is off, in millionths of what is wanted.
    pub error_ppm: f64,
}

/// With commas between thousands.
fn grouped(n: u64) -> String {
    let digits = n.to_string();
    let mut out = String::new();
    for (i, c) in digits.chars().enumerate() {
        if i > 0 && (digits.len() - i).is_multiple_of(3) {
            out.push(',');
        }
        out.push(c);
    }
    out
}

fn plan(kind: &str, clock: u64, wanted: f64, cycles_per_count: u64) -> Option<DividerPlan> {
    let exact = clock as f64 / (wanted * cycles_per_count as f64);
    let counts = exact.round();
    if !(1.0..9e18).contains(&counts) {
        return None;
    }
    let counts = counts as u64;
    let period = counts.checked_mul(cycles_per_count)?;
    let achieved = clock as f64 / period as f64;
    let times = if cycles_per_count == 2 { "2 · " } else { "" };
    let rounded = if (exact - counts as f64).abs() < 1e-9 * exact { "=" } else { "≈" };
    Some(DividerPlan {
        kind: kind.into(),
        terminal_count: counts - 1,
        formula: format!("{} Hz / ({times}{wanted} Hz) - 1 {rounded} {}", grouped(clock), grouped(counts - 1)),
        width: (64 - (counts - 1).leading_zeros()).max(1),
        period_cycles: period,
        achieved_hz: achieved,
        error_ppm: (achieved / wanted - 1.0) * 1e6,
    })
}

/// Why a frequency can't be had from a clock.
#[derive(Clone, Copy, Debug, PartialEq, thiserror::Error)]
#[non_exhaustive]
pub enum DividerError {
    /// The clock's frequency is out of reach.
    #[error("A clock has 1 Hz to 100 GHz; write for example 12000000.")]
    Clock,
    /// The frequency is none.
    #[error("Write a frequency above 0 Hz, for example 1 or 0.5.")]
    Frequency,
    /// The frequency is above that of the clock: both in Hz.
    #[error("A clock of {} Hz can't be divided down to the faster {} Hz.", grouped(*.0), .1)]
    Faster(u64, f64),
}

/// The ways to divide a clock down to a frequency, nearest whole counts.
///
/// # Errors
/// When the frequency can't be had from this clock.
pub fn divider_plans(clock_hz: u64, wanted_hz: f64) -> Result<Vec<DividerPlan>, DividerError> {
    if clock_hz == 0 || clock_hz > 100_000_000_000 {
        return Err(DividerError::Clock);
    }
    if !(wanted_hz.is_finite() && wanted_hz > 0.0) {
        return Err(DividerError::Frequency);
    }
    if wanted_hz > clock_hz as f64 {
        return Err(DividerError::Faster(clock_hz, wanted_hz));
    }
    let plans = [plan("toggle", clock_hz, wanted_hz, 2), plan("pulse", clock_hz, wanted_hz, 1)];
    Ok(plans.into_iter().flatten().collect())
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn the_terminal_count_is_that_of_common_practice() {
        // Common practice: F / (2 f) - 1 for an output that is turned over.
        for (clock, wanted, count, width) in [
            (100_000_000, 1.0, 49_999_999, 26),
            (50_000_000, 1.0, 24_999_999, 25),
            (12_000_000, 1.0, 5_999_999, 23),
            (12_000_000, 2.0, 2_999_999, 22),
            (100_000_000, 1_000.0, 49_999, 16),
            (8, 1.0, 3, 2),
            (2, 1.0, 0, 1),
        ] {
            let plan = &divider_plans(clock, wanted).unwrap()[0];
            assert_eq!((plan.terminal_count, plan.width), (count, width), "{clock} Hz to {wanted} Hz");
            assert!(plan.error_ppm.abs() < 1e-9 && (plan.achieved_hz - wanted).abs() < 1e-9);
        }
        let plan = &divider_plans(100_000_000, 1.0).unwrap()[0];
        assert_eq!(plan.formula, "100,000,000 Hz / (2 · 1 Hz) - 1 = 49,999,999");
        assert_eq!(divider_plans(100_000_000, 1_000.0).unwrap()[1].terminal_count, 99_999, "a pulse each period");
    }

    #[test]
    fn a_rate_between_two_counts_says_how_far_it_is_off() {
        // 12 MHz to 440 Hz: 13,636.36 counts; 13,636 of them give 440.0117 Hz.
        let plan = &divider_plans(12_000_000, 440.0).unwrap()[0];
        assert_eq!((plan.terminal_count, plan.period_cycles), (13_635, 27_272));
        assert!((plan.achieved_hz - 12_000_000.0 / 27_272.0).abs() < 1e-9);
        assert!((plan.error_ppm - 26.67).abs() < 0.01, "{}", plan.error_ppm);
        assert!(plan.formula.contains('≈'));
    }

    #[test]
    fn what_a_clock_can_not_give_is_told() {
        assert!(divider_plans(1_000, 2_000.0).unwrap_err().to_string().contains("can't be divided down"));
        assert!(divider_plans(1_000, 0.0).unwrap_err().to_string().contains("above 0 Hz"));
        assert!(divider_plans(1_000, f64::NAN).unwrap_err().to_string().contains("above 0 Hz"));
        assert!(divider_plans(0, 1.0).is_err());
        // Faster than half the clock: only the pulse, which is then always high, remains near.
        assert_eq!(divider_plans(1_000, 1_000.0).unwrap().last().unwrap().terminal_count, 0);
    }
}
