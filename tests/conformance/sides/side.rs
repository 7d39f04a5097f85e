use std::collections::{BTreeMap, BTreeSet};
use std::fmt;
use std::sync::atomic::{AtomicI64, Ordering};

#[derive(Debug)]
pub struct NegativeError;

impl fmt::Display for NegativeError {
    fn fmt(&self, out: &mut fmt::Formatter) -> fmt::Result {
        write!(out, "negative")
    }
}

#[derive(Debug)]
struct NoRoomError;

pub struct Boat {
    name: String,
    metres: i64,
}

struct Quay {
    room: i64,
}

impl Quay {
    fn new(room: i64) -> Self {
        Quay { room }
    }

    fn moor(&mut self, boat: &Boat) -> Result<i64, NoRoomError> {
        if boat.metres > self.room {
            return Err(NoRoomError);
        }
        self.room -= boat.metres;
        Ok(self.room)
    }

    fn larger(&self, other: &Quay) -> bool {
        self.room > other.room
    }
}

static TICKS: AtomicI64 = AtomicI64::new(0);

fn twice(number: i64) -> i64 {
    number * 2
}

fn half(number: f64) -> f64 {
    number / 2.0
}

pub fn join(words: &[String], separator: &str) -> String {
    words.join(separator)
}

fn is_even(number: i32) -> bool {
    number % 2 == 0
}

fn count(words: &[&str]) -> BTreeMap<String, usize> {
    let mut counts = BTreeMap::new();
    for word in words {
        *counts.entry(word.to_string()).or_insert(0) += 1;
    }
    counts
}

fn distinct(words: Vec<String>) -> BTreeSet<String> {
    words.into_iter().collect()
}

fn longest(boats: &[Boat]) -> Option<&Boat> {
    boats.iter().reduce(|best, boat| if boat.metres > best.metres { boat } else { best })
}

fn fill(numbers: &mut Vec<i64>, value: i64) {
    for number in numbers.iter_mut() {
        *number = value;
    }
}

fn greet(name: &str) {
    println!("hello {name}");
}

fn refuse(number: i64) -> Result<i64, NegativeError> {
    if number < 0 { Err(NegativeError) } else { Ok(number) }
}

fn big() -> i64 {
    i64::MAX
}

fn odd_number(which: usize) -> f64 {
    [f64::NAN, f64::INFINITY, -0.0][which]
}

fn reversed_bytes(data: &[u8]) -> Vec<u8> {
    data.iter().rev().copied().collect()
}

fn tick() -> i64 {
    TICKS.fetch_add(1, Ordering::SeqCst) + 1
}
