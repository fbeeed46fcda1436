//! Primary keys, a type each, so that none is taken for another.

use rusqlite::types::{FromSql, FromSqlResult, ToSql, ToSqlOutput, ValueRef};
use serde::{Deserialize, Serialize};

macro_rules! ids {
    ($($(#[$meta:meta])* $name:ident;)*) => {
        $(
            $(#[$meta])*
            #[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize)]
            #[cfg_attr(feature = "wire", derive(utoipa::ToSchema))]
            #[serde(transparent)]
            pub struct $name(
                /// The number in its table.
                pub i64,
            );

            impl std::fmt::Display for $name {
                fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
                    self.0.fmt(f)
                }
            }

            impl ToSql for $name {
                fn to_sql(&self) -> rusqlite::Result<ToSqlOutput<'_>> {
                    self.0.to_sql()
                }
            }

            impl FromSql for $name {
                fn column_result(value: ValueRef<'_>) -> FromSqlResult<Self> {
                    i64::column_result(value).map(Self)
                }
            }
        )*
    };
}

ids! {
    /// Primary key of a person.
    PersonId;
    /// Primary key of a course.
    CourseId;
    /// Primary key of an exercise.
    ExerciseId;
    /// Primary key of a revision of an exercise.
    RevisionId;
    /// Primary key of a hand-in.
    HandInId;
}
