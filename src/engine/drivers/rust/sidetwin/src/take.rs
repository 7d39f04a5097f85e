//! Decodes Side Twin's notation (docs/formats.md, sections 3, 17 and 20). The error describes the value that does not fit.

use crate::json::Value;
use std::cell::{Cell, RefCell};
use std::collections::{BTreeMap, BTreeSet, BinaryHeap, HashMap, HashSet, VecDeque};
use std::hash::Hash;
use std::marker::PhantomData;
use std::rc::Rc;
use std::sync::{Arc, Mutex, RwLock};

/// A value that can be read.
pub trait Take: Sized {
    fn take(value: &Value) -> Result<Self, String>;

    /// A list of them; bytes are another one.
    fn take_list(value: &Value) -> Result<Vec<Self>, String> {
        items_of(value).ok_or_else(|| misfit(value, "list"))?.iter().map(Self::take).collect()
    }

    /// Where the value is left out.
    fn take_key(key: &str) -> Result<Self, String> {
        Self::take(&Value::Text(key.to_string())).or_else(|_| Self::take(&Value::Number(key.to_string())))
    }
}

/// A type that is wanted, readable or not: the first trait is found before the second.
pub struct Want<T>(PhantomData<T>);

impl<T> Want<T> {
    #[allow(clippy::new_without_default)]
    pub fn new() -> Self {
        Want(PhantomData)
    }
}

pub trait TakeKnown<T> {
    fn take_it(&self, value: &Value) -> Result<T, String>;
}

impl<T: Take> TakeKnown<T> for &Want<T> {
    fn take_it(&self, value: &Value) -> Result<T, String> {
        T::take(value)
    }
}

pub trait TakeAny<T> {
    fn take_it(&self, value: &Value) -> Result<T, String>;
}

impl<T> TakeAny<T> for Want<T> {
    fn take_it(&self, _: &Value) -> Result<T, String> {
        Err(format!("a {} cannot be handed over", std::any::type_name::<T>()))
    }
}

pub fn misfit(value: &Value, wanted: &str) -> String {
    format!("{} is no {wanted}", value.shown())
}

/// The tag of `{"~tag": body}` and its body.
pub fn tag_of(value: &Value) -> Option<(&str, &Value)> {
    match value {
        Value::Object(members) => match value.member("~obj") {
            Some(body) => Some(("~obj", body)),
            None => members.first().filter(|(key, _)| key.starts_with('~')).map(|(key, body)| (key.as_str(), body)),
        },
        _ => None,
    }
}

pub fn is_null(value: &Value) -> bool {
    matches!(value, Value::Null) || matches!(tag_of(value), Some(("~none", _)))
}

fn items_of(value: &Value) -> Option<&[Value]> {
    match tag_of(value) {
        Some(("~tuple" | "~list" | "~set", body)) => body.items(),
        _ => value.items(),
    }
}

/// The fields of an object, tagged or plain.
fn fields_of(value: &Value) -> Option<&[(String, Value)]> {
    let found = match tag_of(value) {
        None => value,
        Some(("~obj", _)) => value.member("fields")?,
        Some(("~esc", body)) => body,
        Some(_) => return None,
    };
    match found {
        Value::Object(members) => Some(members),
        _ => None,
    }
}

fn loose(name: &str) -> String {
    name.trim_start_matches("r#").chars().filter(|letter| *letter != '_').flat_map(char::to_lowercase).collect()
}

/// The value of a field by its name or place, from an object's fields or a list's items. `names` are all fields.
pub fn field_of<'a>(value: &'a Value, at: usize, names: &[&str], kind: &str) -> Result<&'a Value, String> {
    static NULL: Value = Value::Null;
    if let Some(items) = items_of(value) {
        return if items.len() > names.len() { Err(format!("{} has more items than {kind} has fields", value.shown())) } else { Ok(items.get(at).unwrap_or(&NULL)) };
    }
    let fields = fields_of(value).ok_or_else(|| misfit(value, kind))?;
    for (name, _) in fields {
        if !names.iter().any(|known| loose(known) == loose(name)) {
            return Err(format!("{kind} has no field {name}"));
        }
    }
    let exact = fields.iter().find(|(name, _)| name == names[at]);
    let found = exact.or_else(|| fields.iter().find(|(name, _)| loose(name) == loose(names[at])));
    Ok(found.map_or(&NULL, |(_, value)| value))
}

/// Returns the variant's name: the text itself, or the object's name.
pub fn variant_of(value: &Value) -> Option<&str> {
    match value {
        Value::Text(text) => Some(text),
        _ => match tag_of(value) {
            Some(("~obj", Value::Text(name))) => Some(name),
            _ => None,
        },
    }
}

/// The name or number of a member of an enum without fields.
pub fn member_of(value: &Value) -> &Value {
    match tag_of(value) {
        Some(("~obj", _)) => value.member("fields").and_then(|fields| fields.member("value")).unwrap_or(value),
        _ => value,
    }
}

// -- numbers, texts ---------------------------------------------------------------------------------------------------

fn whole<'a>(value: &'a Value, kind: &str) -> Result<&'a str, String> {
    let text = match (value, tag_of(value)) {
        (Value::Number(text), _) => text,
        (_, Some(("~int", Value::Text(text)))) => text,
        _ => return Err(misfit(value, kind)),
    };
    if text.trim_start_matches('-').bytes().all(|byte| byte.is_ascii_digit()) { Ok(text) } else { Err(misfit(value, kind)) }
}

macro_rules! whole_numbers {
    ($($kind:ident)*) => {$(
        impl Take for $kind {
            fn take(value: &Value) -> Result<Self, String> {
                let text = whole(value, stringify!($kind))?;
                text.parse().map_err(|_| format!("{text} is out of the range of {}", stringify!($kind)))
            }
        }
    )*};
}

whole_numbers!(i8 i16 i32 i64 i128 isize u16 u32 u64 u128 usize);

impl Take for u8 {
    fn take(value: &Value) -> Result<Self, String> {
        let text = whole(value, "u8")?;
        text.parse().map_err(|_| format!("{text} is out of the range of u8"))
    }

    fn take_list(value: &Value) -> Result<Vec<Self>, String> {
        match tag_of(value) {
            Some(("~bytes", Value::Text(text))) => bytes_of(text).ok_or_else(|| misfit(value, "bytes")),
            _ => items_of(value).ok_or_else(|| misfit(value, "bytes"))?.iter().map(Self::take).collect(),
        }
    }
}

fn bytes_of(text: &str) -> Option<Vec<u8>> {
    let (mut bits, mut count, mut data) = (0u32, 0, Vec::new());
    for byte in text.bytes().take_while(|byte| *byte != b'=') {
        let digit = match byte {
            b'A'..=b'Z' => byte - b'A',
            b'a'..=b'z' => byte - b'a' + 26,
            b'0'..=b'9' => byte - b'0' + 52,
            b'+' => 62,
            b'/' => 63,
            _ => return None,
        };
        bits = bits << 6 | u32::from(digit);
        count += 6;
        if count >= 8 {
            count -= 8;
            data.push((bits >> count & 255) as u8);
        }
    }
    Some(data)
}

impl Take for f64 {
    fn take(value: &Value) -> Result<Self, String> {
        let text = match (value, tag_of(value)) {
            (Value::Number(text), _) => text,
            (_, Some(("~float" | "~int" | "~dec" | "~num", Value::Text(text)))) => text,
            _ => return Err(misfit(value, "number")),
        };
        text.replace("Infinity", "inf").parse().map_err(|_| misfit(value, "number"))
    }
}

impl Take for f32 {
    fn take(value: &Value) -> Result<Self, String> {
        f64::take(value).map(|number| number as f32)
    }
}

impl Take for bool {
    fn take(value: &Value) -> Result<Self, String> {
        match value {
            Value::Bool(flag) => Ok(*flag),
            _ => Err(misfit(value, "bool")),
        }
    }
}

impl Take for String {
    fn take(value: &Value) -> Result<Self, String> {
        value.text().map(str::to_string).ok_or_else(|| misfit(value, "text"))
    }
}

impl Take for char {
    fn take(value: &Value) -> Result<Self, String> {
        let mut letters = value.text().unwrap_or("").chars();
        match (letters.next(), letters.next()) {
            (Some(letter), None) => Ok(letter),
            _ => Err(misfit(value, "char")),
        }
    }
}

impl Take for () {
    fn take(value: &Value) -> Result<Self, String> {
        if is_null(value) { Ok(()) } else { Err(misfit(value, "()")) }
    }
}

impl Take for Value {
    fn take(value: &Value) -> Result<Self, String> {
        Ok(value.clone())
    }
}

// -- what holds others ------------------------------------------------------------------------------------------------

/// References with a static lifetime: the memory is leaked.
impl<T: Take> Take for &'static T {
    fn take(value: &Value) -> Result<Self, String> {
        T::take(value).map(|made| &*Box::leak(Box::new(made)))
    }
}

impl<T: Take> Take for &'static mut T {
    fn take(value: &Value) -> Result<Self, String> {
        T::take(value).map(|made| Box::leak(Box::new(made)))
    }
}

impl Take for &'static str {
    fn take(value: &Value) -> Result<Self, String> {
        String::take(value).map(|text| &*Box::leak(text.into_boxed_str()))
    }
}

impl<T: Take> Take for &'static [T] {
    fn take(value: &Value) -> Result<Self, String> {
        T::take_list(value).map(|items| &*Box::leak(items.into_boxed_slice()))
    }
}

impl<T: Take + Clone + 'static> Take for std::borrow::Cow<'static, [T]> {
    fn take(value: &Value) -> Result<Self, String> {
        T::take_list(value).map(std::borrow::Cow::Owned)
    }
}

impl Take for std::borrow::Cow<'static, str> {
    fn take(value: &Value) -> Result<Self, String> {
        String::take(value).map(std::borrow::Cow::Owned)
    }
}

impl Take for std::path::PathBuf {
    fn take(value: &Value) -> Result<Self, String> {
        String::take(value).map(Into::into)
    }
}

impl<T: Take> Take for Option<T> {
    fn take(value: &Value) -> Result<Self, String> {
        if is_null(value) { Ok(None) } else { T::take(value).map(Some) }
    }
}

macro_rules! holders {
    ($($holder:ident $make:path;)*) => {$(
        impl<T: Take> Take for $holder<T> {
            fn take(value: &Value) -> Result<Self, String> {
                T::take(value).map($make)
            }
        }
    )*};
}

holders!(Box Box::new; Rc Rc::new; Arc Arc::new; Cell Cell::new; RefCell RefCell::new; Mutex Mutex::new; RwLock RwLock::new;);

impl Take for Box<str> {
    fn take(value: &Value) -> Result<Self, String> {
        String::take(value).map(String::into_boxed_str)
    }
}

impl Take for Rc<str> {
    fn take(value: &Value) -> Result<Self, String> {
        String::take(value).map(Into::into)
    }
}

impl Take for Arc<str> {
    fn take(value: &Value) -> Result<Self, String> {
        String::take(value).map(Into::into)
    }
}

impl<T: Take> Take for Box<[T]> {
    fn take(value: &Value) -> Result<Self, String> {
        T::take_list(value).map(Vec::into_boxed_slice)
    }
}

impl<T: Take> Take for Vec<T> {
    fn take(value: &Value) -> Result<Self, String> {
        T::take_list(value)
    }
}

impl<T: Take> Take for VecDeque<T> {
    fn take(value: &Value) -> Result<Self, String> {
        T::take_list(value).map(Into::into)
    }
}

impl<T: Take + Ord> Take for BinaryHeap<T> {
    fn take(value: &Value) -> Result<Self, String> {
        T::take_list(value).map(Into::into)
    }
}

impl<T: Take + Ord> Take for BTreeSet<T> {
    fn take(value: &Value) -> Result<Self, String> {
        T::take_list(value).map(|items| items.into_iter().collect())
    }
}

impl<T: Take + Eq + Hash> Take for HashSet<T> {
    fn take(value: &Value) -> Result<Self, String> {
        T::take_list(value).map(|items| items.into_iter().collect())
    }
}

impl<T: Take, const N: usize> Take for [T; N] {
    fn take(value: &Value) -> Result<Self, String> {
        let items = T::take_list(value)?;
        let count = items.len();
        items.try_into().map_err(|_| format!("{} has {count} items, not {N}", value.shown()))
    }
}

fn pairs_of<K: Take, V: Take>(value: &Value) -> Result<Vec<(K, V)>, String> {
    if let Some(("~map", Value::List(pairs))) = tag_of(value) {
        return pairs.iter().map(<(K, V)>::take).collect();
    }
    let fields = fields_of(value).ok_or_else(|| misfit(value, "map"))?;
    fields.iter().map(|(key, value)| Ok((K::take_key(key)?, V::take(value)?))).collect()
}

impl<K: Take + Eq + Hash, V: Take> Take for HashMap<K, V> {
    fn take(value: &Value) -> Result<Self, String> {
        pairs_of(value).map(|pairs| pairs.into_iter().collect())
    }
}

impl<K: Take + Ord, V: Take> Take for BTreeMap<K, V> {
    fn take(value: &Value) -> Result<Self, String> {
        pairs_of(value).map(|pairs| pairs.into_iter().collect())
    }
}

macro_rules! tuples {
    ($($count:literal: $($name:ident $at:tt)*;)*) => {$(
        impl<$($name: Take),*> Take for ($($name,)*) {
            fn take(value: &Value) -> Result<Self, String> {
                let items = items_of(value).ok_or_else(|| misfit(value, "tuple"))?;
                if items.len() != $count {
                    return Err(format!("{} has {} items, not {}", value.shown(), items.len(), $count));
                }
                Ok(($($name::take(&items[$at])?,)*))
            }
        }
    )*};
}

tuples! {
    1: A 0;
    2: A 0 B 1;
    3: A 0 B 1 C 2;
    4: A 0 B 1 C 2 D 3;
    5: A 0 B 1 C 2 D 3 E 4;
    6: A 0 B 1 C 2 D 3 E 4 F 5;
}
