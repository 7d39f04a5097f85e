package sidetwin;

import java.math.BigDecimal;
import java.math.BigInteger;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

/** JSON as the protocol has it: whole numbers exact, floats shortest, lone surrogates kept. */
final class Json {
  private final String text;
  private int at;

  private Json(String text) {
    this.text = text;
  }

  /** Maps, lists, text, Boolean, null; a number with a point or an exponent is a Double, else a Long or a BigInteger. */
  static Object parse(String text) {
    Json json = new Json(text);
    Object value = json.value();
    json.space();
    if (json.at != text.length()) throw json.wrong();
    return value;
  }

  private IllegalArgumentException wrong() {
    return new IllegalArgumentException("not JSON at " + at);
  }

  private void space() {
    while (at < text.length() && text.charAt(at) <= ' ') at++;
  }

  private boolean takes(char sign) {
    space();
    if (at >= text.length() || text.charAt(at) != sign) return false;
    at++;
    return true;
  }

  private Object value() {
    space();
    if (at >= text.length()) throw wrong();
    char sign = text.charAt(at);
    if (sign == '{') return object();
    if (sign == '[') return list();
    if (sign == '"') return string();
    for (Object[] word : WORDS) {
      if (text.startsWith((String) word[0], at)) {
        at += ((String) word[0]).length();
        return word[1];
      }
    }
    return number();
  }

  private static final Object[][] WORDS = {{"null", null}, {"true", true}, {"false", false}};

  private Map<String, Object> object() {
    Map<String, Object> made = new LinkedHashMap<>();
    at++;
    if (takes('}')) return made;
    do {
      space();
      String key = string();
      if (!takes(':')) throw wrong();
      made.put(key, value());
    } while (takes(','));
    if (!takes('}')) throw wrong();
    return made;
  }

  private List<Object> list() {
    List<Object> made = new ArrayList<>();
    at++;
    if (takes(']')) return made;
    do made.add(value()); while (takes(','));
    if (!takes(']')) throw wrong();
    return made;
  }

  private String string() {
    StringBuilder made = new StringBuilder();
    at++;
    for (;;) {
      char sign = text.charAt(at++);
      if (sign == '"') return made.toString();
      if (sign != '\\') {
        made.append(sign);
        continue;
      }
      char next = text.charAt(at++);
      switch (next) {
        case 'b': made.append('\b'); break;
        case 'f': made.append('\f'); break;
        case 'n': made.append('\n'); break;
        case 'r': made.append('\r'); break;
        case 't': made.append('\t'); break;
        case 'u':
          made.append((char) Integer.parseInt(text.substring(at, at + 4), 16));
          at += 4;
          break;
        default: made.append(next);
      }
    }
  }

  private Object number() {
    int from = at;
    boolean isWhole = true;
    for (; at < text.length(); at++) {
      char sign = text.charAt(at);
      if (sign == '.' || sign == 'e' || sign == 'E') isWhole = false;
      else if (!(sign == '-' || sign == '+' || (sign >= '0' && sign <= '9'))) break;
    }
    String written = text.substring(from, at);
    if (written.isEmpty()) throw wrong();
    if (!isWhole) return Double.valueOf(written);
    if (written.length() < 18) return Long.valueOf(written);
    return new BigInteger(written);
  }

  static String write(Object value) {
    StringBuilder out = new StringBuilder();
    write(value, out);
    return out.toString();
  }

  private static void write(Object value, StringBuilder out) {
    if (value instanceof String) quote((String) value, out);
    else if (value instanceof Map) {
      out.append('{');
      String gap = "";
      for (Map.Entry<?, ?> entry : ((Map<?, ?>) value).entrySet()) {
        out.append(gap);
        quote((String) entry.getKey(), out);
        out.append(':');
        write(entry.getValue(), out);
        gap = ",";
      }
      out.append('}');
    } else if (value instanceof List) {
      out.append('[');
      String gap = "";
      for (Object item : (List<?>) value) {
        out.append(gap);
        write(item, out);
        gap = ",";
      }
      out.append(']');
    } else if (value instanceof Double) out.append(shortest((Double) value));
    else out.append(value);
  }

  /** The fewest digits that give the number back: those of Double.toString are up to one too many before Java 19. */
  static String shortest(double value) {
    String usual = Double.toString(value);
    for (int digits = 1; digits < 17; digits++) {
      String tried = new BigDecimal(value).round(new java.math.MathContext(digits)).toString();
      if (tried.length() < usual.length() && Double.parseDouble(tried) == value) return isWhole(tried) ? tried + ".0" : tried;
    }
    return usual;
  }

  private static boolean isWhole(String digits) {
    return digits.indexOf('.') == -1 && digits.indexOf('E') == -1;
  }

  private static void quote(String text, StringBuilder out) {
    out.append('"');
    for (int at = 0; at < text.length(); at++) {
      char sign = text.charAt(at);
      if (sign == '"' || sign == '\\') out.append('\\').append(sign);
      else if (sign < ' ' || sign > '~') out.append(String.format("\\u%04x", (int) sign));
      else out.append(sign);
    }
    out.append('"');
  }
}
