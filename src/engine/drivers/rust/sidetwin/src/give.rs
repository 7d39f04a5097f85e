//! Rust values to Side Twin's notation (docs/formats.md, sections 3, 17 and 20).

use crate::json::{write_text, Value};
use std::cell::{Cell, RefCell};
use std::collections::{BTreeMap, BTreeSet, BinaryHeap, HashMap, HashSet, VecDeque};
use std::fmt::{Debug, Display};
use std::rc::Rc;
use std::sync::{Arc, Mutex, RwLock};

const MAX_DEPTH: usize = 150;

/// A value that can be written.
pub trait Give {
    fn give(&self, out: &mut String);

    /// A list of them; bytes are another one.
    fn give_list(items: &[Self], out: &mut String)
    where
        Self: Sized,
    {
        list_to(items.iter(), out);
    }

    /// The text of a map's key, where it is text.
    fn key(&self) -> Option<String> {
        None
    }
}

/// A value, readable or not: the first trait is found before the second.
pub struct Shown<'a, T: ?Sized>(pub &'a T);

pub trait GiveKnown {
    fn give_it(&self, out: &mut String);
}

impl<T: Give + ?Sized> GiveKnown for &Shown<'_, T> {
    fn give_it(&self, out: &mut String) {
        self.0.give(out);
    }
}

pub trait GiveAny {
    fn give_it(&self, out: &mut String);
}

impl<T: ?Sized> GiveAny for Shown<'_, T> {
    fn give_it(&self, out: &mut String) {
        out.push_str("{\"~opaque\":");
        write_text(&format!("<{}>", std::any::type_name::<T>()), out);
        out.push('}');
    }
}

/// The words of an error: as it is shown, else as it is debugged, else none.
pub struct Words<'a, T>(pub &'a T);

pub trait WordsByDisplay {
    fn words(&self) -> String;
}

impl<T: Display> WordsByDisplay for &&Words<'_, T> {
    fn words(&self) -> String {
        self.0.to_string()
    }
}

pub trait WordsByDebug {
    fn words(&self) -> String;
}

impl<T: Debug> WordsByDebug for &Words<'_, T> {
    fn words(&self) -> String {
        format!("{:?}", self.0)
    }
}

pub trait WordsOfNone {
    fn words(&self) -> String;
}

impl<T> WordsOfNone for Words<'_, T> {
    fn words(&self) -> String {
        String::new()
    }
}

thread_local! {
    static DEPTH: Cell<usize> = const { Cell::new(0) };
}

/// Writes what lies deeper, up to a limit: what leads back to itself has no end.
fn deeper(out: &mut String, write: impl FnOnce(&mut String)) {
    let depth = DEPTH.with(|depth| depth.replace(depth.get() + 1));
    if depth > MAX_DEPTH {
        out.push_str("{\"~opaque\":\"<nested deeper than 150>\"}");
    } else {
        write(out);
    }
    DEPTH.with(|known| known.set(depth));
}

fn list_to<'a, T: Give + 'a>(items: impl Iterator<Item = &'a T>, out: &mut String) {
    deeper(out, |out| {
        out.push('[');
        for (at, item) in items.enumerate() {
            if at > 0 {
                out.push(',');
            }
            item.give(out);
        }
        out.push(']');
    });
}

/// Writes a struct's or a variant's fields; each entry writes its own value.
pub fn fields_to(name: &str, names: &[&str], out: &mut String, write: &dyn Fn(usize, &mut String)) {
    deeper(out, |out| {
        out.push_str("{\"~obj\":");
        write_text(name, out);
        out.push_str(",\"fields\":{");
        for (at, field) in names.iter().enumerate() {
            if at > 0 {
                out.push(',');
            }
            write_text(field.trim_start_matches("r#"), out);
            out.push(':');
            write(at, out);
        }
        out.push_str("}}");
    });
}

// -- numbers, texts ---------------------------------------------------------------------------------------------------

macro_rules! whole_numbers {
    ($($kind:ident)*) => {$(
        impl Give for $kind {
            fn give(&self, out: &mut String) {
                const SAFE: i128 = 9_007_199_254_740_991;
                let is_safe = i128::try_from(*self).map_or(false, |number| number.abs() <= SAFE);
                if is_safe { out.push_str(&self.to_string()) } else { out.push_str(&format!("{{\"~int\":\"{self}\"}}")) }
            }
        }
    )*};
}

whole_numbers!(i8 i16 i32 i64 isize u16 u32 u64 u128 usize);

impl Give for i128 {
    fn give(&self, out: &mut String) {
        match i64::try_from(*self) {
            Ok(number) => number.give(out),
            Err(_) => out.push_str(&format!("{{\"~int\":\"{self}\"}}")),
        }
    }
}

impl Give for u8 {
    fn give(&self, out: &mut String) {
        out.push_str(&self.to_string());
    }

    fn give_list(items: &[Self], out: &mut String) {
        const DIGITS: &[u8] = b"ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789+/";
        out.push_str("{\"~bytes\":\"");
        for triple in items.chunks(3) {
            let bits = triple.iter().fold(0u32, |bits, byte| bits << 8 | u32::from(*byte)) << (8 * (3 - triple.len()));
            for digit in 0..4 {
                let letter = if digit > triple.len() { b'=' } else { DIGITS[(bits >> (18 - 6 * digit) & 63) as usize] };
                out.push(letter as char);
            }
        }
        out.push_str("\"}");
    }
}

impl Give for f64 {
    fn give(&self, out: &mut String) {
        if self.is_nan() {
            out.push_str("{\"~num\":\"NaN\"}");
        } else if self.is_infinite() {
            out.push_str(if *self > 0.0 { "{\"~num\":\"Infinity\"}" } else { "{\"~num\":\"-Infinity\"}" });
        } else if *self == 0.0 && self.is_sign_negative() {
            out.push_str("{\"~num\":\"-0\"}");
        } else {
            // The shortest digits that are read back as the same number.
            let text = format!("{self:?}");
            if *self == self.trunc() { out.push_str(&format!("{{\"~float\":\"{text}\"}}")) } else { out.push_str(&text) }
        }
    }
}

impl Give for f32 {
    fn give(&self, out: &mut String) {
        f64::from(*self).give(out);
    }
}

impl Give for bool {
    fn give(&self, out: &mut String) {
        out.push_str(if *self { "true" } else { "false" });
    }
}

impl Give for str {
    fn give(&self, out: &mut String) {
        write_text(self, out);
    }

    fn key(&self) -> Option<String> {
        Some(self.to_string())
    }
}

impl Give for String {
    fn give(&self, out: &mut String) {
        write_text(self, out);
    }

    fn key(&self) -> Option<String> {
        Some(self.clone())
    }
}

impl Give for char {
    fn give(&self, out: &mut String) {
        write_text(self.encode_utf8(&mut [0; 4]), out);
    }

    fn key(&self) -> Option<String> {
        Some(self.to_string())
    }
}

impl Give for () {
    fn give(&self, out: &mut String) {
        out.push_str("null");
    }
}

impl Give for Value {
    fn give(&self, out: &mut String) {
        self.write(out);
    }
}

impl Give for std::path::PathBuf {
    fn give(&self, out: &mut String) {
        write_text(&self.to_string_lossy(), out);
    }
}

impl Give for std::path::Path {
    fn give(&self, out: &mut String) {
        write_text(&self.to_string_lossy(), out);
    }
}

impl Give for std::time::Duration {
    fn give(&self, out: &mut String) {
        self.as_secs_f64().give(out);
    }
}

impl Give for std::cmp::Ordering {
    fn give(&self, out: &mut String) {
        (*self as i32).give(out);
    }
}

// -- what holds others ------------------------------------------------------------------------------------------------

impl<T: Give + ?Sized> Give for &T {
    fn give(&self, out: &mut String) {
        (**self).give(out);
    }

    fn key(&self) -> Option<String> {
        (**self).key()
    }
}

impl<T: Give + ?Sized> Give for &mut T {
    fn give(&self, out: &mut String) {
        (**self).give(out);
    }
}

macro_rules! pointers {
    ($($holder:ident)*) => {$(
        impl<T: Give + ?Sized> Give for $holder<T> {
            fn give(&self, out: &mut String) {
                deeper(out, |out| (**self).give(out));
            }

            fn key(&self) -> Option<String> {
                (**self).key()
            }
        }
    )*};
}

pointers!(Box Rc Arc);

impl<T: Give + ToOwned + ?Sized> Give for std::borrow::Cow<'_, T> {
    fn give(&self, out: &mut String) {
        (**self).give(out);
    }

    fn key(&self) -> Option<String> {
        (**self).key()
    }
}

impl<T: Give + Copy> Give for Cell<T> {
    fn give(&self, out: &mut String) {
        self.get().give(out);
    }
}

impl<T: Give> Give for RefCell<T> {
    fn give(&self, out: &mut String) {
        match self.try_borrow() {
            Ok(inner) => inner.give(out),
            Err(_) => out.push_str("{\"~opaque\":\"<borrowed>\"}"),
        }
    }
}

impl<T: Give> Give for Mutex<T> {
    fn give(&self, out: &mut String) {
        match self.try_lock() {
            Ok(inner) => inner.give(out),
            Err(_) => out.push_str("{\"~opaque\":\"<locked>\"}"),
        }
    }
}

impl<T: Give> Give for RwLock<T> {
    fn give(&self, out: &mut String) {
        match self.try_read() {
            Ok(inner) => inner.give(out),
            Err(_) => out.push_str("{\"~opaque\":\"<locked>\"}"),
        }
    }
}

impl<T: Give> Give for Option<T> {
    fn give(&self, out: &mut String) {
        match self {
            Some(value) => value.give(out),
            None => out.push_str("null"),
        }
    }
}

impl<T: Give, E: Give> Give for Result<T, E> {
    fn give(&self, out: &mut String) {
        match self {
            Ok(value) => value.give(out),
            Err(error) => fields_to("Err", &["error"], out, &|_, out| error.give(out)),
        }
    }
}

impl<T: Give> Give for [T] {
    fn give(&self, out: &mut String) {
        T::give_list(self, out);
    }
}

impl<T: Give> Give for Vec<T> {
    fn give(&self, out: &mut String) {
        T::give_list(self, out);
    }
}

impl<T: Give, const N: usize> Give for [T; N] {
    fn give(&self, out: &mut String) {
        T::give_list(self, out);
    }
}

impl<T: Give> Give for VecDeque<T> {
    fn give(&self, out: &mut String) {
        list_to(self.iter(), out);
    }
}

impl<T: Give + Ord> Give for BinaryHeap<T> {
    fn give(&self, out: &mut String) {
        let mut items: Vec<&T> = self.iter().collect();
        items.sort();
        list_to(items.into_iter(), out);
    }
}

fn set_to<'a, T: Give + 'a>(items: impl Iterator<Item = &'a T>, out: &mut String) {
    let mut written: Vec<String> = items.map(written).collect();
    written.sort();
    out.push_str(&format!("{{\"~set\":[{}]}}", written.join(",")));
}

fn written<T: Give + ?Sized>(value: &T) -> String {
    let mut text = String::new();
    value.give(&mut text);
    text
}

impl<T: Give> Give for BTreeSet<T> {
    fn give(&self, out: &mut String) {
        set_to(self.iter(), out);
    }
}

impl<T: Give, S> Give for HashSet<T, S> {
    fn give(&self, out: &mut String) {
        set_to(self.iter(), out);
    }
}

fn map_to<'a, K: Give + 'a, V: Give + 'a>(pairs: impl Iterator<Item = (&'a K, &'a V)>, out: &mut String) {
    let mut keyed: Vec<(Option<String>, String, String)> = Vec::new();
    deeper(out, |_| keyed = pairs.map(|(key, value)| (key.key(), written(key), written(value))).collect());
    keyed.sort();
    let are_texts = keyed.iter().all(|(key, _, _)| key.is_some());
    if !are_texts {
        let pairs: Vec<String> = keyed.iter().map(|(_, key, value)| format!("[{key},{value}]")).collect();
        out.push_str(&format!("{{\"~map\":[{}]}}", pairs.join(",")));
        return;
    }
    let members: Vec<String> = keyed.iter().map(|(_, key, value)| format!("{key}:{value}")).collect();
    let has = |name: &str| keyed.iter().any(|(key, _, _)| key.as_deref() == Some(name));
    let is_single = keyed.len() == 1 && keyed[0].0.as_deref().map_or(false, |key| key.starts_with('~'));
    if is_single || has("~obj") || has("~list") {
        out.push_str(&format!("{{\"~esc\":{{{}}}}}", members.join(",")));
    } else {
        out.push_str(&format!("{{{}}}", members.join(",")));
    }
}

impl<K: Give, V: Give> Give for BTreeMap<K, V> {
    fn give(&self, out: &mut String) {
        map_to(self.iter(), out);
    }
}

impl<K: Give, V: Give, S> Give for HashMap<K, V, S> {
    fn give(&self, out: &mut String) {
        map_to(self.iter(), out);
    }
}

macro_rules! tuples {
    ($($($name:ident $at:tt)*;)*) => {$(
        impl<$($name: Give),*> Give for ($($name,)*) {
            fn give(&self, out: &mut String) {
                out.push_str("{\"~tuple\":[");
                $(
                    if $at > 0 {
                        out.push(',');
                    }
                    self.$at.give(out);
                )*
                out.push_str("]}");
            }
        }
    )*};
}

tuples! {
    A 0;
    A 0 B 1;
    A 0 B 1 C 2;
    A 0 B 1 C 2 D 3;
    A 0 B 1 C 2 D 3 E 4;
    A 0 B 1 C 2 D 3 E 4 F 5;
}
