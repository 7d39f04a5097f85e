//! The protocol: requests in, replies out.

use crate::calls::{Call, Function, Missing, Objects, Registry, Thunk};
use crate::lines::Sets;
use crate::json::{parse, write_text, Value};
use crate::sha512::{constants, sha512, Constants};
use crate::state::Image;
use std::cell::RefCell;
use std::fs::File;
use std::io::{BufRead, BufReader, Read, Seek, SeekFrom, Write};
use std::mem::ManuallyDrop;
use std::os::unix::io::FromRawFd;
use std::sync::Mutex;

/// How a side's variables are made fresh for each case.
#[derive(Clone, Copy, PartialEq)]
pub enum Statics {
    /// It has none that change.
    None,
    /// All are plain: their bytes are put back.
    Plain,
    /// Some lead elsewhere: the process ends.
    Deep,
}

enum Problem {
    Missing(String),
    Broken(&'static str, String),
}

impl From<Missing> for Problem {
    fn from(missing: Missing) -> Self {
        Problem::Broken("would-not-load", missing.0)
    }
}

thread_local! {
    static PLACE: RefCell<String> = const { RefCell::new(String::new()) };
}

pub(crate) fn panic_place() -> String {
    PLACE.with(|place| place.take())
}

struct Driver {
    registry: Registry,
    statics: Statics,
    version: String,
    secret: String,
    seal: Option<(i64, [u8; 64])>,
    constants: Constants,
    output_limit: u64,
    image: Option<Image>,
    objects: Objects,
    sets: Sets,
}

/// Serves requests until there are no more. `statics` is `none`, `plain` or `deep`.
pub fn serve(registry: Registry, statics: &str, version: &str) -> ! {
    std::panic::set_hook(Box::new(|info| {
        let place = info.location().map_or(String::new(), |at| format!("{}:{}:{}", at.file(), at.line(), at.column()));
        PLACE.with(|known| *known.borrow_mut() = place);
    }));
    let statics = match statics {
        "plain" => Statics::Plain,
        "deep" => Statics::Deep,
        _ => Statics::None,
    };
    let mut driver = Driver {
        registry,
        statics,
        version: version.to_string(),
        secret: String::new(),
        seal: None,
        constants: constants(),
        output_limit: 8192 * 1024,
        image: None,
        objects: Objects::new(),
        sets: Sets::default(),
    };
    // The parts of the standard library that set themselves up do so before the image is kept.
    let _ = std::panic::catch_unwind(|| panic!("first"));
    print!("");
    let _ = std::io::stdout().flush();
    unsafe { on_exit(ended, std::ptr::null_mut()) };
    if statics == Statics::Plain {
        driver.image = Some(Image::keep());
    }
    let (requests, mut replies) = unsafe { (BufReader::with_capacity(1 << 16, File::from_raw_fd(3)), File::from_raw_fd(4)) };
    driver.answer_all(requests, &mut replies);
    let _ = std::io::stdout().flush();
    unsafe { _exit(0) }
}

extern "C" {
    fn _exit(code: i32) -> !;
    fn on_exit(work: extern "C" fn(i32, *mut u8), given: *mut u8) -> i32;
}

/// Replies to be written before that of the running case, and the start of its own; empty between cases. Not in thread-local
/// storage, which is gone when the process ends.
static DUE: Mutex<String> = Mutex::new(String::new());

fn set_due(text: String) -> String {
    DUE.lock().map(|mut due| std::mem::replace(&mut *due, text)).unwrap_or_default()
}

/// The code ended the process: its case still gets its answer.
extern "C" fn ended(status: i32, _: *mut u8) {
    let due = set_due(String::new());
    if due.is_empty() {
        return;
    }
    let what = format!("it ended the process: exit({status})");
    let mut replies = ManuallyDrop::new(unsafe { File::from_raw_fd(4) });
    let _ = replies.write_all(format!("{due},\"last\":true,{}}}\n", broken("ended", &what)).as_bytes());
    unsafe { _exit(0) }
}

impl Driver {
    fn answer_all(&mut self, mut requests: BufReader<File>, replies: &mut File) {
        let mut waiting = String::new();
        let mut line = String::new();
        loop {
            line.clear();
            match requests.read_line(&mut line) {
                Ok(count) if count > 0 => {}
                _ => break,
            }
            let asked = match parse(&line) {
                Some(asked) => asked,
                None => break,
            };
            let op = asked.member("op").and_then(Value::text).unwrap_or("");
            if op == "bye" {
                break;
            }
            let is_last = self.answer(&asked, op, &mut waiting);
            let is_alone = asked.member("alone") == Some(&Value::Bool(true));
            // Replies leave together while requests are at hand; asked to be alone, one has left before the next can end the process.
            if is_last || is_alone || !requests.buffer().contains(&b'\n') || waiting.len() > 1 << 16 {
                if replies.write_all(waiting.as_bytes()).is_err() {
                    break;
                }
                waiting.clear();
            }
            if is_last {
                break;
            }
        }
        let _ = replies.write_all(waiting.as_bytes());
    }

    /// True where the process is to end after the reply.
    fn answer(&mut self, asked: &Value, op: &str, out: &mut String) -> bool {
        let id: i64 = match asked.member("id") {
            Some(Value::Number(text)) => text.parse().unwrap_or(0),
            _ => 0,
        };
        let mut milliseconds = -1.0;
        if matches!(op, "call" | "steps") {
            crate::clock::fix(asked.member("now").and_then(Value::text));
            let tag = if self.secret.is_empty() { String::new() } else { format!(",\"tag\":\"{}\"", self.tag(id)) };
            set_due(format!("{out}{{\"id\":{id}{tag}"));
        }
        let mut members = match self.run(asked, op, &mut milliseconds) {
            Ok(members) => members,
            Err(Problem::Missing(name)) => format!("\"missing\":{}", quoted(&name)),
            Err(Problem::Broken(why, what)) => broken(why, &what),
        };
        set_due(String::new());
        let lines = if matches!(op, "call" | "steps") { self.sets.take() } else { String::new() };
        let mut is_last = false;
        if matches!(op, "call" | "steps") {
            match take_printed(self.output_limit) {
                Some(printed) => members += &format!(",\"printed\":{}", quoted(&printed)),
                None => members = broken("over-limit", "it printed more than the limit allows"),
            }
            self.objects.clear();
            is_last = asked.member("state").and_then(Value::text) != Some("kept") && self.statics == Statics::Deep;
            if let (Some(image), false) = (&self.image, asked.member("state").and_then(Value::text) == Some("kept")) {
                image.restore();
            }
        }
        out.push_str(&format!("{{\"id\":{id}"));
        if !self.secret.is_empty() {
            out.push_str(&format!(",\"tag\":\"{}\"", self.tag(id)));
        }
        if is_last {
            out.push_str(",\"last\":true");
        }
        if milliseconds >= 0.0 {
            out.push_str(&format!(",\"ms\":{milliseconds:.4}"));
        }
        out.push_str(&lines);
        if !members.is_empty() {
            out.push(',');
        }
        out.push_str(&members);
        out.push_str("}\n");
        is_last
    }

    fn tag(&mut self, id: i64) -> String {
        let group = id >> 4;
        if self.seal.map(|(known, _)| known) != Some(group) {
            self.seal = Some((group, sha512(&self.constants, &format!("{}:{group}", self.secret))));
        }
        let from = (id & 15) as usize * 4;
        let digest = self.seal.map_or([0; 64], |(_, digest)| digest);
        digest[from..from + 4].iter().map(|byte| format!("{byte:02x}")).collect()
    }

    fn run(&mut self, asked: &Value, op: &str, milliseconds: &mut f64) -> Result<String, Problem> {
        match op {
            "hello" => {
                self.secret = asked.member("secret").and_then(Value::text).unwrap_or("").to_string();
                if let Some(Value::Number(limit)) = asked.member("outputKb") {
                    self.output_limit = limit.parse::<u64>().unwrap_or(8192) * 1024;
                }
                Ok(format!("\"bridge\":1,\"language\":\"rust\",\"version\":{}", quoted(&self.version)))
            }
            "reset" => Ok(String::new()),
            "load" => {
                let files = self.files_of(asked)?;
                let known = self.registry.functions.iter().filter(|one| files.contains(&one.file));
                let names: Vec<String> = known
                    .map(|one| {
                        let params: Vec<String> = one.params.iter().map(|name| quoted(name)).collect();
                        format!("{{\"name\":{},\"kind\":\"function\",\"params\":[{}]}}", quoted(one.name), params.join(","))
                    })
                    .collect();
                Ok(format!("\"names\":[{}]", names.join(",")))
            }
            "call" => {
                let files = self.files_of(asked)?;
                let names = texts(asked, "names", "name");
                let found = names.iter().find_map(|name| self.function(name, &files));
                let function = found.ok_or_else(|| Problem::Missing(names.first().unwrap_or(&"a name").to_string()))?;
                let order = Order::of(asked);
                self.invoke(function, &order, None, None, milliseconds)
            }
            "steps" => self.steps(asked),
            _ => Ok(format!("\"error\":{}", quoted("unknown operation; known: hello, load, call, steps, reset"))),
        }
    }

    fn files_of(&self, asked: &Value) -> Result<Vec<&'static str>, Problem> {
        let wanted = texts(asked, "files", "file");
        if let Some((_, what)) = self.registry.complaints.iter().find(|(file, _)| wanted.contains(file)) {
            return Err(Problem::Broken("would-not-load", what.to_string()));
        }
        let mut known: Vec<&'static str> = self.registry.functions.iter().chain(&self.registry.makers).map(|one| one.file).filter(|file| wanted.contains(file)).collect();
        known.dedup();
        if known.is_empty() {
            return Err(Problem::Missing(wanted.first().unwrap_or(&"a file").to_string()));
        }
        Ok(known)
    }

    fn function(&self, name: &str, files: &[&str]) -> Option<usize> {
        self.registry.functions.iter().position(|one| one.name == name && files.contains(&one.file))
    }

    fn invoke(&mut self, at: usize, order: &Order, receiver: Option<&str>, keeps: Option<&str>, milliseconds: &mut f64) -> Result<String, Problem> {
        let registry = &self.registry.functions;
        let first = &registry[at];
        let answer = invoke(first, order, receiver, keeps, &mut self.objects, milliseconds);
        // A generic function is there once for each type that it is called with: the first that takes the arguments answers.
        let mut others = registry[at + 1..].iter().filter(|one| one.name == first.name && one.file == first.file);
        let answer = match answer {
            Err(Problem::Broken("would-not-load", _)) => others
                .find_map(|one| match invoke(one, order, receiver, keeps, &mut self.objects, milliseconds) {
                    Err(Problem::Broken("would-not-load", _)) => None,
                    found => Some(found),
                })
                .unwrap_or(answer),
            found => found,
        };
        answer
    }

    fn steps(&mut self, asked: &Value) -> Result<String, Problem> {
        let files = self.files_of(asked)?;
        let mut answers = Vec::new();
        for step in asked.member("steps").and_then(Value::items).unwrap_or(&[]) {
            let (on, keeps) = (step.member("on").and_then(Value::text), step.member("as").and_then(Value::text));
            let order = Order::of(step);
            if let Some(name) = on {
                if !self.objects.contains_key(name) {
                    return Err(Problem::Missing(name.to_string()));
                }
            }
            let members = if step.member("new").is_some() {
                self.create(&texts(step, "new", ""), &files, &order, keeps)?
            } else if step.member("call").is_some() {
                let names = texts(step, "call", "");
                let found = names.iter().find_map(|name| match on {
                    Some(object) => self.method(object, name, &files),
                    None => self.function(name, &files),
                });
                let at = found.ok_or_else(|| Problem::Missing(names.first().unwrap_or(&"a name").to_string()))?;
                self.invoke(at, &order, on, keeps, &mut -1.0)?
            } else if step.member("get").is_some() {
                self.get(&texts(step, "get", ""), on.unwrap_or(""), &files, &order, keeps)?
            } else {
                self.set(&texts(step, "set", ""), on.unwrap_or(""), step.member("value").unwrap_or(&Value::Null))?
            };
            answers.push(format!("{{{members}}}"));
        }
        Ok(format!("\"steps\":[{}]", answers.join(",")))
    }

    /// A method of the object's type in these files, else anywhere; else a function that takes it first is none.
    fn method(&self, object: &str, name: &str, files: &[&str]) -> Option<usize> {
        let kind = &self.objects.get(object)?.kind;
        let wanted = format!("{kind}.{name}");
        self.function(&wanted, files).or_else(|| self.registry.functions.iter().position(|one| one.name == wanted))
    }

    /// A function of that name, the type's usual maker, or its fields in their order.
    fn create(&mut self, names: &[&str], files: &[&str], order: &Order, keeps: Option<&str>) -> Result<String, Problem> {
        for name in names {
            let simple = name.rsplit(['.', ':']).next().unwrap_or(name);
            let kind: String = capital(simple);
            let makers = ["new", "create", "make", "build", "open", "from", "default"];
            let candidates = std::iter::once(simple.to_string())
                .chain(makers.iter().flat_map(|maker| [format!("{simple}.{maker}"), format!("{kind}.{maker}")]))
                .chain([format!("new_{simple}"), format!("make_{simple}")]);
            for candidate in candidates {
                let at = match self.function(&candidate, files) {
                    Some(at) => at,
                    None => continue,
                };
                // A maker that takes another number of arguments is none, where the fields fit.
                let takes = self.registry.functions[at].params.len();
                let fits_fields = self.registry.makers.iter().any(|one| one.name == kind && one.params.len() == order.args.len());
                if takes != order.count() && fits_fields {
                    continue;
                }
                let members = self.invoke(at, order, None, keeps, &mut -1.0)?;
                return Ok(made(&members));
            }
            let fields = self.registry.makers.iter().find(|one| (one.name == simple || one.name == kind) && files.contains(&one.file));
            if let Some(maker) = fields {
                let members = invoke(maker, order, None, keeps, &mut self.objects, &mut -1.0)?;
                return Ok(made(&members));
            }
        }
        Err(Problem::Missing(names.first().unwrap_or(&"a name").to_string()))
    }

    fn get(&mut self, names: &[&str], on: &str, files: &[&str], order: &Order, keeps: Option<&str>) -> Result<String, Problem> {
        let kind = self.objects.get(on).map(|object| object.kind.clone()).unwrap_or_default();
        for name in names {
            if let Some(thunk) = find_field(&self.registry.getters, &kind, name) {
                let mut call = self.field_call(name, on, None);
                thunk(&mut call)?;
                let value = std::mem::take(&mut call.value);
                return Ok(format!("\"value\":{value}"));
            }
            for candidate in [name.to_string(), format!("get_{name}")] {
                if let Some(at) = self.method(on, &candidate, files) {
                    return self.invoke(at, order, Some(on), keeps, &mut -1.0);
                }
            }
        }
        Err(Problem::Missing(names.first().unwrap_or(&"a name").to_string()))
    }

    fn set(&mut self, names: &[&str], on: &str, value: &Value) -> Result<String, Problem> {
        let kind = self.objects.get(on).map(|object| object.kind.clone()).unwrap_or_default();
        for name in names {
            if let Some(thunk) = find_field(&self.registry.setters, &kind, name) {
                let mut call = self.field_call(name, on, Some(value));
                thunk(&mut call)?;
                return Ok("\"value\":null".to_string());
            }
            let setter = format!("{kind}.set_{name}");
            if let Some(at) = self.registry.functions.iter().position(|one| one.name == setter) {
                let order = Order { args: vec![value], kwargs: Vec::new() };
                self.invoke(at, &order, Some(on), None, &mut -1.0)?;
                return Ok("\"value\":null".to_string());
            }
        }
        Err(Problem::Missing(names.first().unwrap_or(&"a name").to_string()))
    }

    fn field_call<'a>(&'a mut self, name: &'a str, on: &'a str, value: Option<&'a Value>) -> Call<'a> {
        Call {
            name,
            params: &["value"],
            given: vec![value],
            objects: &mut self.objects,
            receiver: Some(on),
            keeps: None,
            value: String::new(),
            thrown: None,
            after: vec![None],
            milliseconds: -1.0,
        }
    }
}

fn find_field(all: &std::collections::HashMap<(&'static str, &'static str), Thunk>, kind: &str, name: &str) -> Option<Thunk> {
    let loose = |text: &str| text.replace('_', "").to_lowercase();
    let exact = all.iter().find(|((owner, field), _)| *owner == kind && *field == name);
    let found = exact.or_else(|| all.iter().find(|((owner, field), _)| *owner == kind && loose(field) == loose(name)));
    found.map(|(_, thunk)| *thunk)
}

fn capital(name: &str) -> String {
    let mut letters = name.chars();
    letters.next().map_or(String::new(), |first| first.to_uppercase().chain(letters).collect())
}

/// Replaces a constructor's result by a plain object; null and errors stay.
fn made(members: &str) -> String {
    if !members.starts_with("\"value\":") || members.starts_with("\"value\":null") {
        return members.to_string();
    }
    let from = members.rfind(",\"args\":").unwrap_or(members.len());
    format!("\"value\":{{\"~obj\":\"new\",\"fields\":{{}}}}{}", &members[from..])
}

/// The arguments of a call or step.
struct Order<'a> {
    args: Vec<&'a Value>,
    kwargs: Vec<(&'a str, &'a Value)>,
}

impl<'a> Order<'a> {
    fn of(asked: &'a Value) -> Order<'a> {
        let args = asked.member("args").and_then(Value::items).unwrap_or(&[]).iter().collect();
        let kwargs = match asked.member("kwargs") {
            Some(Value::Object(members)) => members.iter().map(|(key, value)| (key.as_str(), value)).collect(),
            _ => Vec::new(),
        };
        Order { args, kwargs }
    }

    fn count(&self) -> usize {
        self.args.len() + self.kwargs.len()
    }
}

fn invoke(function: &Function, order: &Order, receiver: Option<&str>, keeps: Option<&str>, objects: &mut Objects, milliseconds: &mut f64) -> Result<String, Problem> {
    let thunk = function.thunk.map_err(|why| Problem::Broken("would-not-load", format!("{} cannot be called: {why}", function.name)))?;
    let count = function.params.len();
    if order.count() != count {
        return Err(Problem::Broken("would-not-load", format!("{} takes {count} arguments, not {}", function.name, order.count())));
    }
    let mut given: Vec<Option<&Value>> = vec![None; count];
    for (key, value) in &order.kwargs {
        let loose = |text: &str| text.replace('_', "").to_lowercase();
        let at = function.params.iter().position(|name| loose(name) == loose(key));
        given[at.ok_or_else(|| Problem::Broken("would-not-load", format!("{} has no parameter {key}", function.name)))?] = Some(value);
    }
    let mut free = (0..count).filter(|at| given[*at].is_none()).collect::<Vec<_>>().into_iter();
    let mut places = Vec::new();
    for value in &order.args {
        if let Some(at) = free.next() {
            given[at] = Some(value);
            places.push(at);
        }
    }
    let mut call = Call { name: function.name, params: function.params, given, objects, receiver, keeps, value: String::new(), thrown: None, after: vec![None; count], milliseconds: -1.0 };
    thunk(&mut call)?;
    *milliseconds = call.milliseconds;
    let mut members = match &call.thrown {
        Some((kind, words, place)) => {
            let trace = if place.is_empty() { String::new() } else { format!(",\"trace\":{}", quoted(place)) };
            format!("\"thrown\":{{\"kind\":{},\"message\":{}{trace}}}", quoted(kind), quoted(words))
        }
        None => format!("\"value\":{}", call.value),
    };
    let shown = |at: usize| match &call.after[at] {
        Some(text) => text.clone(),
        None => call.given[at].map_or("null".to_string(), |value| {
            let mut text = String::new();
            value.write(&mut text);
            text
        }),
    };
    let args: Vec<String> = places.iter().map(|at| shown(*at)).collect();
    members += &format!(",\"args\":[{}]", args.join(","));
    if !order.kwargs.is_empty() {
        let named: Vec<String> = order
            .kwargs
            .iter()
            .map(|(key, value)| {
                let at = call.given.iter().position(|given| given.map_or(false, |given| std::ptr::eq(given, *value))).unwrap_or(0);
                format!("{}:{}", quoted(key), shown(at))
            })
            .collect();
        members += &format!(",\"kwargs\":{{{}}}", named.join(","));
    }
    Ok(members)
}

fn quoted(text: &str) -> String {
    let mut out = String::new();
    write_text(text, &mut out);
    out
}

fn broken(why: &str, what: &str) -> String {
    format!("\"broken\":{{\"why\":\"{why}\",\"what\":{},\"lastOutput\":\"\"}}", quoted(what))
}

fn texts<'a>(asked: &'a Value, many: &str, one: &str) -> Vec<&'a str> {
    match asked.member(many).and_then(Value::items) {
        Some(items) if !items.is_empty() => items.iter().filter_map(Value::text).collect(),
        _ => asked.member(one).and_then(Value::text).into_iter().collect(),
    }
}

/// Reads the output printed since the last case; None if it exceeds the limit.
fn take_printed(limit: u64) -> Option<String> {
    let _ = std::io::stdout().flush();
    let mut file = ManuallyDrop::new(unsafe { File::from_raw_fd(1) });
    let length = file.metadata().map_or(0, |facts| facts.len());
    if length == 0 {
        return Some(String::new());
    }
    let mut data = Vec::new();
    if length <= limit {
        let _ = file.seek(SeekFrom::Start(0));
        let _ = file.read_to_end(&mut data);
    }
    let _ = file.set_len(0);
    (length <= limit).then(|| String::from_utf8_lossy(&data).into_owned())
}
