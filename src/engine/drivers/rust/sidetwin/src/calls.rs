//! Functions by name, and what goes into and comes out of a call.

use crate::json::Value;
use crate::take::tag_of;
use std::any::Any;
use std::cell::RefCell;
use std::collections::HashMap;
use std::fmt;
use std::ops::{Deref, DerefMut};
use std::panic::{catch_unwind, AssertUnwindSafe};
use std::rc::Rc;
use std::sync::{Arc, Mutex};
use std::time::Instant;

/// Runs one call: decodes the arguments, calls, encodes the answer. The error names the argument that does not fit.
pub type Thunk = fn(&mut Call) -> Result<(), Missing>;

/// Why a call could not be made.
#[derive(Debug)]
pub struct Missing(pub String);

pub(crate) struct Function {
    pub file: &'static str,
    pub name: &'static str,
    pub params: &'static [&'static str],
    /// How many of them are arguments; `self` is not one.
    pub thunk: Result<Thunk, &'static str>,
}

/// The functions and fields of a side. A method is `Type.name`; fields of a type are `Type.name` as well.
#[derive(Default)]
pub struct Registry {
    pub(crate) functions: Vec<Function>,
    pub(crate) getters: HashMap<(&'static str, &'static str), Thunk>,
    pub(crate) setters: HashMap<(&'static str, &'static str), Thunk>,
    pub(crate) makers: Vec<Function>,
    pub(crate) complaints: Vec<(&'static str, &'static str)>,
}

impl Registry {
    pub fn function(&mut self, file: &'static str, name: &'static str, params: &'static [&'static str], thunk: Thunk) {
        self.functions.push(Function { file, name, params, thunk: Ok(thunk) });
    }

    /// A function that is known and cannot be called.
    pub fn refused(&mut self, file: &'static str, name: &'static str, why: &'static str) {
        self.functions.push(Function { file, name, params: &[], thunk: Err(why) });
    }

    /// A struct that is made of its fields in their order.
    pub fn maker(&mut self, file: &'static str, name: &'static str, fields: &'static [&'static str], thunk: Thunk) {
        self.makers.push(Function { file, name, params: fields, thunk: Ok(thunk) });
    }

    pub fn field(&mut self, kind: &'static str, name: &'static str, get: Thunk, set: Thunk) {
        self.getters.insert((kind, name), get);
        self.setters.insert((kind, name), set);
    }

    pub fn complaint(&mut self, file: &'static str, what: &'static str) {
        self.complaints.push((file, what));
    }
}

/// An object that a step has named, with the last part of its type's name.
pub(crate) struct Object {
    pub value: Option<Box<dyn Any>>,
    pub kind: String,
}

pub(crate) type Objects = HashMap<String, Object>;

/// One call while it is made.
pub struct Call<'a> {
    pub(crate) name: &'a str,
    pub(crate) params: &'a [&'static str],
    /// By parameter: positional or named.
    pub(crate) given: Vec<Option<&'a Value>>,
    pub(crate) objects: &'a mut Objects,
    pub(crate) receiver: Option<&'a str>,
    /// The name under which the value is kept.
    pub(crate) keeps: Option<&'a str>,
    pub(crate) value: String,
    pub(crate) thrown: Option<(String, String, String)>,
    pub(crate) after: Vec<Option<String>>,
    pub(crate) milliseconds: f64,
}

impl<'a> Call<'a> {
    pub fn given(&self, at: usize) -> Result<&'a Value, Missing> {
        self.given[at].ok_or_else(|| Missing(format!("the argument {} of {} is not given", self.params[at], self.name)))
    }

    pub fn misfit(&self, at: usize, what: String) -> Missing {
        Missing(format!("the argument {} of {}: {what}", self.params.get(at).unwrap_or(&"value"), self.name))
    }

    /// The name of the type that an argument is of: an object's own, or that of the object that it names.
    pub fn kind_at(&self, at: usize) -> String {
        match self.given.get(at).copied().flatten().and_then(tag_of) {
            Some(("~as", Value::Text(name))) => self.objects.get(name).map_or(String::new(), |object| object.kind.clone()),
            Some(("~obj", Value::Text(name))) => name.clone(),
            _ => String::new(),
        }
    }

    fn named(&self, at: usize) -> Result<Option<&'a str>, Missing> {
        match self.given.get(at).copied().flatten().and_then(tag_of) {
            Some(("~as", Value::Text(name))) => Ok(Some(name)),
            _ => Ok(None),
        }
    }

    /// Returns the object of an earlier step given as an argument; none for a plain value.
    pub fn object<T: 'static>(&mut self, at: usize) -> Result<Option<*mut T>, Missing> {
        match self.named(at)? {
            None => Ok(None),
            Some(name) => self.find(name).map(Some).map_err(|what| self.misfit(at, what)),
        }
    }

    /// The same, moved out of its name: it can be used once.
    pub fn moved<T: 'static>(&mut self, at: usize) -> Result<Option<T>, Missing> {
        let name = match self.named(at)? {
            Some(name) => name,
            None => return Ok(None),
        };
        let found = self.objects.get_mut(name).and_then(|object| object.value.take());
        let found = found.ok_or_else(|| self.misfit(at, format!("the object \"{name}\" is not there, or was given away")))?;
        found.downcast::<T>().map(|object| Some(*object)).map_err(|_| self.misfit(at, format!("the object \"{name}\" is of another type")))
    }

    fn find<T: 'static>(&mut self, name: &str) -> Result<*mut T, String> {
        let object = self.objects.get_mut(name).ok_or_else(|| format!("no step has named an object \"{name}\""))?;
        let value = object.value.as_mut().ok_or_else(|| format!("the object \"{name}\" was given away"))?.as_mut();
        if let Some(found) = value.downcast_mut::<T>() {
            return Ok(found);
        }
        if let Some(Some(found)) = value.downcast_mut::<Option<T>>() {
            return Ok(found);
        }
        if let Some(found) = value.downcast_mut::<Box<T>>() {
            return Ok(&mut **found);
        }
        if let Some(found) = value.downcast_mut::<Rc<RefCell<T>>>() {
            return Ok(found.as_ptr());
        }
        if let Some(found) = value.downcast_mut::<Arc<Mutex<T>>>() {
            return found.lock().map(|mut inner| &mut *inner as *mut T).map_err(|_| "its lock is poisoned".to_string());
        }
        if let Some(found) = value.downcast_mut::<Rc<T>>() {
            return Ok(Rc::as_ptr(found) as *mut T);
        }
        if let Some(found) = value.downcast_mut::<Arc<T>>() {
            return Ok(Arc::as_ptr(found) as *mut T);
        }
        Err(format!("the object \"{name}\" is a {}", object.kind))
    }

    /// The object that a method is called on.
    pub fn receiver<T: 'static>(&mut self) -> Result<*mut T, Missing> {
        let name = self.receiver.unwrap_or("");
        self.find(name).map_err(Missing)
    }

    /// The same, given away.
    pub fn receiver_moved<T: 'static>(&mut self) -> Result<T, Missing> {
        let name = self.receiver.unwrap_or("");
        let found = self.objects.get_mut(name).and_then(|object| object.value.take());
        let found = found.ok_or_else(|| Missing(format!("the object \"{name}\" is not there, or was given away")))?;
        found.downcast::<T>().map(|object| *object).map_err(|_| Missing(format!("the object \"{name}\" is of another type")))
    }

    /// Calls; None where it panicked.
    pub fn run<R>(&mut self, work: impl FnOnce() -> R) -> Option<R> {
        let since = Instant::now();
        let result = catch_unwind(AssertUnwindSafe(work));
        self.milliseconds = since.elapsed().as_secs_f64() * 1e3;
        match result {
            Ok(value) => Some(value),
            Err(panic) => {
                let words = panic.downcast_ref::<&str>().map(|text| text.to_string());
                let words = words.or_else(|| panic.downcast_ref::<String>().cloned()).unwrap_or_default();
                self.thrown = Some(("panic".to_string(), words, crate::serve::panic_place()));
                None
            }
        }
    }

    /// Where the value is written.
    pub fn value(&mut self) -> &mut String {
        &mut self.value
    }

    pub fn thrown<E>(&mut self, _: &E, words: String) {
        self.thrown = Some((kind_of(std::any::type_name::<E>()), words, String::new()));
    }

    pub fn after(&mut self, at: usize) -> &mut String {
        self.after[at].insert(String::new())
    }

    pub fn keep<T: 'static>(&mut self, value: T) {
        if let Some(name) = self.keeps {
            let kind = kind_of(std::any::type_name::<T>());
            self.objects.insert(name.to_string(), Object { value: Some(Box::new(value)), kind });
        }
    }
}

/// The last part of a type's name; of what only holds another, that one's.
pub(crate) fn kind_of(name: &str) -> String {
    // Of several traits the first one names it.
    let name = name.trim_start_matches("dyn ");
    let name = if name.contains('<') { name } else { name.split(" + ").next().unwrap_or(name) };
    let outer = name.split('<').next().unwrap_or(name);
    let last = outer.rsplit("::").next().unwrap_or(outer).trim_start_matches("&mut ").trim_start_matches('&');
    let is_holder = matches!(last, "Box" | "Rc" | "Arc" | "RefCell" | "Mutex" | "Option") && name.contains('<');
    if is_holder {
        let inner = &name[name.find('<').map_or(0, |at| at + 1)..name.len() - 1];
        return kind_of(inner.trim_start_matches("dyn "));
    }
    last.split_whitespace().last().unwrap_or(last).to_string()
}

/// An argument that is lent.
pub enum Arg<T> {
    Owned(T),
    Object(*mut T),
}

impl<T> Deref for Arg<T> {
    type Target = T;

    fn deref(&self) -> &T {
        match self {
            Arg::Owned(value) => value,
            // The objects of a case outlive its calls, and a case runs on one thread.
            Arg::Object(object) => unsafe { &**object },
        }
    }
}

impl<T> DerefMut for Arg<T> {
    fn deref_mut(&mut self) -> &mut T {
        match self {
            Arg::Owned(value) => value,
            Arg::Object(object) => unsafe { &mut **object },
        }
    }
}

/// The error of what has none.
#[derive(Debug)]
pub enum Never {}

impl fmt::Display for Never {
    fn fmt(&self, _: &mut fmt::Formatter<'_>) -> fmt::Result {
        Ok(())
    }
}

/// An answer: of a `Result` its two sides, of anything else the value.
pub struct Split<T>(pub T);

impl<T, E> Split<Result<T, E>> {
    pub fn split(self) -> Result<T, E> {
        self.0
    }
}

pub trait SplitPlain<T> {
    fn split(self) -> Result<T, Never>;
}

impl<T> SplitPlain<T> for Split<T> {
    fn split(self) -> Result<T, Never> {
        Ok(self.0)
    }
}

/// Runs a future that waits for nothing outside.
pub fn block_on<F: std::future::Future>(future: F) -> F::Output {
    use std::task::{Context, Poll, RawWaker, RawWakerVTable, Waker};
    static TABLE: RawWakerVTable = RawWakerVTable::new(|data| RawWaker::new(data, &TABLE), |_| (), |_| (), |_| ());
    let waker = unsafe { Waker::from_raw(RawWaker::new(std::ptr::null(), &TABLE)) };
    let mut future = Box::pin(future);
    loop {
        if let Poll::Ready(value) = future.as_mut().poll(&mut Context::from_waker(&waker)) {
            return value;
        }
        std::thread::yield_now();
    }
}
