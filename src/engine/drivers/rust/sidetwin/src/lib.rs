//! Side Twin's driver for Rust: a side's crates are built with files that register their functions here, and answer in JSON
//! Lines (docs/formats.md, section 7). Requests come in on file descriptor 3, replies leave on 4; descriptor 1 is a file that
//! belongs to the ported code: what it prints is read back from there.

mod calls;
mod clock;
mod give;
mod json;
mod lines;
mod serve;
mod sha512;
mod state;
mod take;

pub use calls::{block_on, Arg, Call, Missing, Never, Registry, Split, SplitPlain, Thunk};
pub use give::{fields_to, Give, GiveAny, GiveKnown, Shown, Words, WordsByDebug, WordsByDisplay, WordsOfNone};
pub use json::Value;
pub use lines::{hit, probe};
pub use serve::serve;
pub use take::{field_of, member_of, variant_of, Take, TakeAny, TakeKnown, Want};

/// Decodes a value of a type; returns an error for a type that cannot be decoded.
#[macro_export]
macro_rules! take {
    ($value:expr, $kind:ty) => {{
        #[allow(unused_imports)]
        use $crate::{TakeAny as _, TakeKnown as _};
        (&&$crate::Want::<$kind>::new()).take_it($value)
    }};
}

/// Encodes a value; a type that cannot be encoded becomes opaque.
#[macro_export]
macro_rules! give {
    ($value:expr, $out:expr) => {{
        #[allow(unused_imports)]
        use $crate::{GiveAny as _, GiveKnown as _};
        (&&$crate::Shown(&$value)).give_it($out)
    }};
}

/// An argument that is lent: an object of an earlier step, or a value of its own.
#[macro_export]
macro_rules! arg {
    ($call:expr, $at:expr, $kind:ty) => {
        match $call.object::<$kind>($at)? {
            Some(object) => $crate::Arg::Object(object),
            None => $crate::Arg::Owned($crate::take!($call.given($at)?, $kind).map_err(|what| $call.misfit($at, what))?),
        }
    };
}

/// An argument that is given away.
#[macro_export]
macro_rules! own {
    ($call:expr, $at:expr, $kind:ty) => {
        match $call.moved::<$kind>($at)? {
            Some(object) => object,
            None => $crate::take!($call.given($at)?, $kind).map_err(|what| $call.misfit($at, what))?,
        }
    };
}

/// Writes what a call answered: the value, or the error that is thrown. `kept`: the value may be named by a step.
#[macro_export]
macro_rules! answer {
    ($call:expr, $value:expr, $kept:ident) => {{
        #[allow(unused_imports)]
        use $crate::{SplitPlain as _, WordsByDebug as _, WordsByDisplay as _, WordsOfNone as _};
        if let Some(value) = $value {
            match $crate::Split(value).split() {
                Ok(value) => {
                    $crate::give!(value, $call.value());
                    $crate::keep!($call, value, $kept);
                }
                Err(error) => $call.thrown(&error, (&&&$crate::Words(&error)).words()),
            }
        }
    }};
}

#[macro_export]
macro_rules! keep {
    ($call:expr, $value:expr, kept) => {
        $call.keep($value)
    };
    ($call:expr, $value:expr, lent) => {
        let _ = &$value;
    };
}
