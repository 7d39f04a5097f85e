package sidetwin;

import java.io.ByteArrayOutputStream;
import java.io.DataOutputStream;
import java.io.IOException;
import java.lang.reflect.Method;
import java.nio.ByteBuffer;
import java.nio.charset.StandardCharsets;
import java.util.HashMap;
import java.util.Map;

/**
 * The code of a class whose calls of the platform's clock go to Clock: entries of its constant pool name other methods.
 * Layout of class files: The Java Virtual Machine Specification, chapter 4.
 */
final class Redirected {
  private static final int UTF8 = 1;
  private static final int CLASS = 7;
  private static final int METHOD = 10;
  private static final int INTERFACE_METHOD = 11;
  private static final int NAME_AND_TYPE = 12;
  private static final byte NEW = (byte) 0xbb;
  private static final byte DUP = 0x59;
  private static final byte INVOKE_SPECIAL = (byte) 0xb7;
  private static final byte INVOKE_STATIC = (byte) 0xb8;
  private static final int POOL = 10;
  private static final int MOST_ENTRIES = 0xffff;

  private final byte[] code;
  /** Entry → its offset. */
  private final int[] places;
  private final int end;
  private final ByteArrayOutputStream added = new ByteArrayOutputStream();
  private final DataOutputStream out = new DataOutputStream(added);
  private int next;

  private Redirected(byte[] given) {
    code = given.clone();
    next = shortAt(POOL - 2);
    places = new int[next];
    int at = POOL;
    for (int entry = 1; entry < next; entry++) {
      places[entry] = at;
      switch (code[at]) {
        case UTF8: at += 3 + shortAt(at + 1); break;
        case 5: case 6: at += 9; entry++; break;
        case CLASS: case 8: case 16: case 19: case 20: at += 3; break;
        case 15: at += 4; break;
        default: at += 5; break;
      }
    }
    end = at;
  }

  /** The same bytes where the class asks for neither clock nor random numbers. */
  static byte[] of(byte[] given) {
    try {
      return new Redirected(given).make(given);
    } catch (IOException | RuntimeException odd) {
      // A class file of a kind that is not known here: it meets the real clock.
      return given;
    }
  }

  private byte[] make(byte[] given) throws IOException {
    Map<Integer, Method> constructors = new HashMap<>();
    for (int entry = 1; entry < places.length; entry++) {
      int at = places[entry];
      if (at == 0 || (code[at] != METHOD && code[at] != INTERFACE_METHOD)) continue;
      int owner = shortAt(at + 1);
      int signature = places[shortAt(at + 3)];
      String name = textAt(shortAt(signature + 1));
      String key = textAt(shortAt(places[owner] + 1)) + "." + name + textAt(shortAt(signature + 3));
      Method method = Clock.METHODS.get(key);
      if (method == null) continue;
      if (name.equals("<init>")) constructors.put(entry, method);
      else {
        int signatureThere = reference(method) - 1;
        // The new entry's class and signature, under the old entry's number.
        code[at] = METHOD;
        put(at + 1, clock);
        put(at + 3, signatureThere);
      }
    }
    for (Map.Entry<Integer, Method> each : constructors.entrySet()) replaceNew(each.getKey(), each.getValue());
    if (next == places.length || next > MOST_ENTRIES) return given;
    ByteArrayOutputStream made = new ByteArrayOutputStream();
    put(POOL - 2, next);
    made.write(code, 0, end);
    added.writeTo(made);
    made.write(code, end, code.length - end);
    return made.toByteArray();
  }

  /** `new Owner; dup; invokespecial` becomes `invokestatic` and four instructions that do nothing. */
  private void replaceNew(int constructor, Method method) throws IOException {
    int owner = shortAt(places[constructor] + 1);
    int reference = 0;
    for (int at = end; at + 7 <= code.length; at++) {
      if (code[at] != NEW || shortAt(at + 1) != owner || code[at + 3] != DUP) continue;
      if (code[at + 4] != INVOKE_SPECIAL || shortAt(at + 5) != constructor) continue;
      if (reference == 0) reference = reference(method);
      code[at] = INVOKE_STATIC;
      put(at + 1, reference);
      for (int rest = at + 3; rest < at + 7; rest++) code[rest] = 0;
    }
  }

  private final Map<Method, Integer> references = new HashMap<>();
  private int clock = 0;

  /** Entries are added one behind the other: signature, then reference. */
  private int reference(Method method) throws IOException {
    Integer known = references.get(method);
    if (known != null) return known;
    if (clock == 0) {
      int name = add(UTF8, "sidetwin/Clock");
      clock = add(CLASS, name);
    }
    int name = add(UTF8, method.getName());
    int type = add(UTF8, Clock.descriptor(method));
    int signature = add(NAME_AND_TYPE, name, type);
    int reference = add(METHOD, clock, signature);
    references.put(method, reference);
    return reference;
  }

  private int add(int kind, Object... parts) throws IOException {
    out.writeByte(kind);
    for (Object part : parts) {
      if (part instanceof String) out.writeUTF((String) part);
      else out.writeShort((Integer) part);
    }
    return next++;
  }

  private int shortAt(int at) {
    return ByteBuffer.wrap(code).getShort(at) & 0xffff;
  }

  private void put(int at, int value) {
    ByteBuffer.wrap(code).putShort(at, (short) value);
  }

  private String textAt(int entry) {
    int at = places[entry];
    return new String(code, at + 3, shortAt(at + 1), StandardCharsets.UTF_8);
  }
}
