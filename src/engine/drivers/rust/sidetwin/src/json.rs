//! JSON as a tree: parsed from requests, written into replies.

/// Numbers are kept as they are written.
#[derive(Clone, Debug, PartialEq)]
pub enum Value {
    Null,
    Bool(bool),
    Number(String),
    Text(String),
    /// Text with a lone surrogate, which Rust has no text for.
    Broken,
    List(Vec<Value>),
    Object(Vec<(String, Value)>),
}

impl Value {
    pub fn member(&self, key: &str) -> Option<&Value> {
        match self {
            Value::Object(members) => members.iter().find(|(name, _)| name == key).map(|(_, value)| value),
            _ => None,
        }
    }

    pub fn text(&self) -> Option<&str> {
        match self {
            Value::Text(text) => Some(text),
            _ => None,
        }
    }

    pub fn items(&self) -> Option<&[Value]> {
        match self {
            Value::List(items) => Some(items),
            _ => None,
        }
    }

    pub fn write(&self, out: &mut String) {
        match self {
            Value::Null | Value::Broken => out.push_str("null"),
            Value::Bool(flag) => out.push_str(if *flag { "true" } else { "false" }),
            Value::Number(text) => out.push_str(text),
            Value::Text(text) => write_text(text, out),
            Value::List(items) => {
                out.push('[');
                for (at, item) in items.iter().enumerate() {
                    if at > 0 {
                        out.push(',');
                    }
                    item.write(out);
                }
                out.push(']');
            }
            Value::Object(members) => {
                out.push('{');
                for (at, (key, value)) in members.iter().enumerate() {
                    if at > 0 {
                        out.push(',');
                    }
                    write_text(key, out);
                    out.push(':');
                    value.write(out);
                }
                out.push('}');
            }
        }
    }

    /// At most 80 characters of it, for messages.
    pub fn shown(&self) -> String {
        let mut text = String::new();
        self.write(&mut text);
        if text.chars().count() > 80 {
            text = text.chars().take(80).collect::<String>() + "…";
        }
        text
    }
}

pub fn write_text(text: &str, out: &mut String) {
    out.push('"');
    for letter in text.chars() {
        match letter {
            '"' => out.push_str("\\\""),
            '\\' => out.push_str("\\\\"),
            '\n' => out.push_str("\\n"),
            control if (control as u32) < 32 || control as u32 == 127 => out.push_str(&format!("\\u{:04x}", control as u32)),
            other => out.push(other),
        }
    }
    out.push('"');
}

struct Reader<'a> {
    text: &'a [u8],
    at: usize,
    depth: usize,
}

/// None if it is not JSON.
pub fn parse(text: &str) -> Option<Value> {
    Reader { text: text.as_bytes(), at: 0, depth: 0 }.value()
}

impl Reader<'_> {
    fn peek(&mut self) -> Option<u8> {
        while matches!(self.text.get(self.at), Some(b' ' | b'\t' | b'\r' | b'\n')) {
            self.at += 1;
        }
        self.text.get(self.at).copied()
    }

    fn takes(&mut self, wanted: u8) -> bool {
        let found = self.peek() == Some(wanted);
        self.at += usize::from(found);
        found
    }

    fn value(&mut self) -> Option<Value> {
        self.depth += 1;
        if self.depth > 400 {
            return None;
        }
        let value = match self.peek()? {
            b'"' => self.string()?,
            b'[' => self.list()?,
            b'{' => self.object()?,
            _ => self.word()?,
        };
        self.depth -= 1;
        Some(value)
    }

    fn list(&mut self) -> Option<Value> {
        self.at += 1;
        let mut items = Vec::new();
        if self.takes(b']') {
            return Some(Value::List(items));
        }
        loop {
            items.push(self.value()?);
            if !self.takes(b',') {
                return self.takes(b']').then_some(Value::List(items));
            }
        }
    }

    fn object(&mut self) -> Option<Value> {
        self.at += 1;
        let mut members = Vec::new();
        if self.takes(b'}') {
            return Some(Value::Object(members));
        }
        loop {
            self.peek()?;
            let key = match self.string()? {
                Value::Text(key) => key,
                _ => return None,
            };
            if !self.takes(b':') {
                return None;
            }
            members.push((key, self.value()?));
            if !self.takes(b',') {
                return self.takes(b'}').then_some(Value::Object(members));
            }
        }
    }

    fn word(&mut self) -> Option<Value> {
        let start = self.at;
        while matches!(self.text.get(self.at), Some(byte) if byte.is_ascii_alphanumeric() || b"+-.".contains(byte)) {
            self.at += 1;
        }
        match std::str::from_utf8(&self.text[start..self.at]).ok()? {
            "null" => Some(Value::Null),
            "true" => Some(Value::Bool(true)),
            "false" => Some(Value::Bool(false)),
            number if number.starts_with(|first: char| first == '-' || first.is_ascii_digit()) => Some(Value::Number(number.to_string())),
            _ => None,
        }
    }

    fn hex(&mut self) -> Option<u32> {
        let digits = std::str::from_utf8(self.text.get(self.at..self.at + 4)?).ok()?;
        self.at += 4;
        u32::from_str_radix(digits, 16).ok()
    }

    fn string(&mut self) -> Option<Value> {
        if self.text.get(self.at) != Some(&b'"') {
            return None;
        }
        self.at += 1;
        let mut text = Vec::new();
        let mut is_broken = false;
        loop {
            let byte = *self.text.get(self.at)?;
            self.at += 1;
            match byte {
                b'"' => break,
                b'\\' => {
                    let letter = *self.text.get(self.at)?;
                    self.at += 1;
                    if letter != b'u' {
                        text.push(match letter {
                            b'n' => b'\n',
                            b't' => b'\t',
                            b'r' => b'\r',
                            b'b' => 8,
                            b'f' => 12,
                            other => other,
                        });
                        continue;
                    }
                    let mut code = self.hex()?;
                    if (0xd800..0xdc00).contains(&code) && self.text.get(self.at..self.at + 2) == Some(b"\\u") {
                        self.at += 2;
                        let low = self.hex()?;
                        code = 0x10000 + ((code - 0xd800) << 10) + low.wrapping_sub(0xdc00);
                    }
                    match char::from_u32(code) {
                        Some(letter) => text.extend_from_slice(letter.encode_utf8(&mut [0; 4]).as_bytes()),
                        None => is_broken = true,
                    }
                }
                other => text.push(other),
            }
        }
        if is_broken {
            return Some(Value::Broken);
        }
        String::from_utf8(text).ok().map(Value::Text)
    }
}
