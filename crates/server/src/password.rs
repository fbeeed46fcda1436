//! Passwords: Argon2id with the library's recommended costs.

use argon2::Argon2;
use argon2::password_hash::{PasswordHasher, PasswordVerifier, phc::PasswordHash};

/// Why a password can't be hashed.
#[derive(Debug, thiserror::Error)]
#[error("The password can't be hashed: {0}")]
pub struct NotHashed(argon2::password_hash::Error);

/// The Argon2id hash of a password, with a fresh salt, in PHC form.
///
/// # Errors
/// When the system gives no random numbers.
pub fn hash_password(password: &str) -> Result<String, NotHashed> {
    Argon2::default().hash_password(password.as_bytes()).map(|h| h.to_string()).map_err(NotHashed)
}

/// Does the password fit the hash? With `None` as much work is done in vain, so that the time tells nothing.
pub(crate) fn verify(password: &str, hash: Option<&str>) -> bool {
    const NOBODY: &str =
        "$argon2id$v=19$m=19456,t=2,p=1$c29tZXNhbHRzb21lc2FsdA$Ltv2gkEdKbSjcKzfwtZ8vyGUy1dCzZ9rZbkFjmYbu2s";
    let parsed = PasswordHash::new(hash.unwrap_or(NOBODY));
    let fits = parsed.is_ok_and(|p| Argon2::default().verify_password(password.as_bytes(), &p).is_ok());
    fits && hash.is_some()
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn only_the_right_password_fits_and_salts_differ() {
        let hash = hash_password("lemon-peel").unwrap();
        assert!(hash.starts_with("$argon2id$"));
        assert_ne!(hash, hash_password("lemon-peel").unwrap());
        assert!(verify("lemon-peel", Some(&hash)));
        assert!(!verify("lime-peel", Some(&hash)));
        assert!(!verify("lemon-peel", None));
    }
}
