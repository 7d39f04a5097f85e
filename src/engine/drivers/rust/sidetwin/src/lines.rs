//! Which lines a case ran, by the probes in the copy of the sources.

use std::collections::HashMap;
use std::sync::atomic::{AtomicPtr, Ordering};

/// One byte a probe, in memory of its own; null until it is made.
static HITS: AtomicPtr<u8> = AtomicPtr::new(std::ptr::null_mut());

/// Sets the file and line of each probe.
pub fn probe(places: &'static [(&'static str, u32)]) {
    PLACES.with(|known| known.set(places));
    let hits = Box::leak(vec![0u8; places.len() + 1].into_boxed_slice());
    HITS.store(hits.as_mut_ptr(), Ordering::Relaxed);
}

thread_local! {
    static PLACES: std::cell::Cell<&'static [(&'static str, u32)]> = const { std::cell::Cell::new(&[]) };
}

/// Notes that a statement was reached.
pub fn hit(number: usize) {
    let hits = HITS.load(Ordering::Relaxed);
    if !hits.is_null() {
        // The number is one of those that `probe` made room for.
        unsafe { *hits.add(number) = 1 };
    }
}

/// The sets of lines that ran, by their probes.
#[derive(Default)]
pub(crate) struct Sets(HashMap<Vec<u8>, usize>);

impl Sets {
    /// Returns the reply members for the lines run since the last call: the set's number, and its lines the first time.
    pub fn take(&mut self) -> String {
        let places = PLACES.with(std::cell::Cell::get);
        let hits = HITS.load(Ordering::Relaxed);
        if places.is_empty() || hits.is_null() {
            return String::new();
        }
        let hits = unsafe { std::slice::from_raw_parts_mut(hits, places.len()) };
        let ran = hits.to_vec();
        hits.fill(0);
        if let Some(number) = self.0.get(&ran) {
            return format!(",\"path\":{number}");
        }
        let mut files: Vec<(&str, Vec<u32>)> = Vec::new();
        for ((file, line), _) in places.iter().zip(&ran).filter(|(_, hit)| **hit == 1) {
            match files.last_mut() {
                Some((known, lines)) if known == file => {
                    if lines.last() != Some(line) {
                        lines.push(*line);
                    }
                }
                _ => files.push((file, vec![*line])),
            }
        }
        let members: Vec<String> = files.iter().map(|(file, lines)| format!("{file:?}:{lines:?}")).collect();
        let number = self.0.len();
        self.0.insert(ran, number);
        format!(",\"path\":{number},\"lines\":{{{}}}", members.join(","))
    }
}
