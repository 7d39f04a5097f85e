package sidetwin;

import java.lang.reflect.Array;
import java.lang.reflect.Constructor;
import java.lang.reflect.Field;
import java.lang.reflect.Modifier;
import java.lang.reflect.ParameterizedType;
import java.lang.reflect.RecordComponent;
import java.lang.reflect.Type;
import java.lang.reflect.TypeVariable;
import java.lang.reflect.WildcardType;
import java.math.BigDecimal;
import java.math.BigInteger;
import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.LocalTime;
import java.time.OffsetDateTime;
import java.time.ZoneOffset;
import java.time.ZonedDateTime;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Base64;
import java.util.Collection;
import java.util.IdentityHashMap;
import java.util.Iterator;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalDouble;
import java.util.OptionalInt;
import java.util.OptionalLong;
import java.util.Set;
import java.util.SortedMap;
import java.util.SortedSet;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.stream.BaseStream;

/** Java values to and from Side Twin's value notation (docs/formats.md, sections 3, 17 and 20). */
final class Notation {
  private static final BigInteger SAFE = BigInteger.valueOf((1L << 53) - 1);
  private static final int MAX_ITEMS = 10_000;
  private static final int MAX_DEPTH = 150;

  /** A value that does not fit what is declared. */
  static final class Misfit extends Exception {
    Misfit(String what) {
      super(what, null, false, false);
    }
  }

  /** Finds a class by the simple name that a case gives. */
  interface Classes {
    Class<?> find(String name);
  }

  private final Classes classes;
  /** Objects that steps have named. */
  private final Map<String, Object> objects;

  Notation(Classes classes, Map<String, Object> objects) {
    this.classes = classes;
    this.objects = objects;
  }

  // -- to notation --------------------------------------------------------------------------------------------

  static Object encode(Object value) {
    return encode(value, new IdentityHashMap<>(), 0);
  }

  private static Object encode(Object value, IdentityHashMap<Object, Integer> path, int depth) {
    if (value == null || value instanceof Boolean) return value;
    if (value instanceof String) return text((String) value);
    if (value instanceof Character) return text(String.valueOf(value));
    if (value instanceof Byte || value instanceof Short || value instanceof Integer || value instanceof Long)
      return whole(BigInteger.valueOf(((Number) value).longValue()));
    if (value instanceof BigInteger) return whole((BigInteger) value);
    if (value instanceof Float || value instanceof Double) return floating(((Number) value).doubleValue());
    if (value instanceof BigDecimal) return one("~dec", ((BigDecimal) value).toPlainString());
    if (value instanceof byte[]) return one("~bytes", Base64.getEncoder().encodeToString((byte[]) value));
    if (value instanceof LocalDate) return one("~date", value.toString());
    if (value instanceof LocalDateTime) return one("~time", withSeconds(value.toString()));
    if (value instanceof Instant) return one("~time", value.toString());
    if (value instanceof OffsetDateTime) return one("~time", withSeconds(value.toString()));
    if (value instanceof ZonedDateTime) return one("~time", withSeconds(((ZonedDateTime) value).toOffsetDateTime().toString()));
    if (value instanceof java.util.Date) return one("~time", ((java.util.Date) value).toInstant().toString());
    if (value instanceof LocalTime) return object("time", fields("value", value.toString()));
    if (value instanceof Enum) return object(simple(((Enum<?>) value).getDeclaringClass()), fields("value", ((Enum<?>) value).name()));
    if (value instanceof Optional) return encode(((Optional<?>) value).orElse(null), path, depth);
    if (value instanceof OptionalInt) return ((OptionalInt) value).isPresent() ? (Object) ((OptionalInt) value).getAsInt() : null;
    if (value instanceof OptionalLong) return ((OptionalLong) value).isPresent() ? whole(BigInteger.valueOf(((OptionalLong) value).getAsLong())) : null;
    if (value instanceof OptionalDouble) return ((OptionalDouble) value).isPresent() ? floating(((OptionalDouble) value).getAsDouble()) : null;
    if (path.containsKey(value)) return one("~ref", (long) path.get(value));
    if (depth > MAX_DEPTH) return one("~opaque", "<nested deeper than " + MAX_DEPTH + ">");
    path.put(value, depth);
    try {
      return composed(value, path, depth + 1);
    } finally {
      path.remove(value);
    }
  }

  private static Object composed(Object value, IdentityHashMap<Object, Integer> path, int depth) {
    if (value.getClass().isArray()) {
      List<Object> items = new ArrayList<>();
      for (int at = 0; at < Array.getLength(value); at++) items.add(encode(Array.get(value, at), path, depth));
      return items;
    }
    if (value instanceof Set) return one("~set", items(((Set<?>) value).iterator(), path, depth));
    if (value instanceof Collection) return list(((Collection<?>) value).iterator(), path, depth);
    if (value instanceof Map) return map((Map<?, ?>) value, path, depth);
    if (value instanceof Iterator) return list((Iterator<?>) value, path, depth);
    if (value instanceof BaseStream) return list(((BaseStream<?, ?>) value).iterator(), path, depth);
    if (value instanceof CharSequence) return text(value.toString());
    if (value instanceof Throwable) return object(simple(value.getClass()), fields("message", message((Throwable) value)));
    if (value instanceof Class || value.getClass().isSynthetic() || value.getClass().isHidden())
      return one("~opaque", "<" + simple(value.getClass()) + ">");
    return instance(value, path, depth);
  }

  private static Object instance(Object value, IdentityHashMap<Object, Integer> path, int depth) {
    Map<String, Object> fields = new LinkedHashMap<>();
    List<Class<?>> kinds = new ArrayList<>();
    for (Class<?> kind = value.getClass(); kind != null && kind != Object.class; kind = kind.getSuperclass()) kinds.add(0, kind);
    for (Class<?> kind : kinds) {
      for (Field field : kind.getDeclaredFields()) {
        if (Modifier.isStatic(field.getModifiers()) || field.isSynthetic()) continue;
        try {
          field.setAccessible(true);
          fields.put(field.getName(), encode(field.get(value), path, depth));
        } catch (ReflectiveOperationException | RuntimeException error) {
          // A class of the platform keeps its inside to itself.
          return one("~opaque", "<" + simple(value.getClass()) + ">");
        }
      }
    }
    return object(simple(value.getClass()), fields);
  }

  private static List<Object> items(Iterator<?> iterator, IdentityHashMap<Object, Integer> path, int depth) {
    List<Object> items = new ArrayList<>();
    while (iterator.hasNext() && items.size() <= MAX_ITEMS) items.add(encode(iterator.next(), path, depth));
    return items;
  }

  private static Object list(Iterator<?> iterator, IdentityHashMap<Object, Integer> path, int depth) {
    List<Object> items = items(iterator, path, depth);
    if (items.size() <= MAX_ITEMS) return items;
    Map<String, Object> cut = new LinkedHashMap<>();
    cut.put("~list", new ArrayList<>(items.subList(0, MAX_ITEMS)));
    cut.put("cut", true);
    return cut;
  }

  private static Object map(Map<?, ?> value, IdentityHashMap<Object, Integer> path, int depth) {
    boolean isPlain = value.keySet().stream().allMatch(key -> key instanceof String && isWellFormed((String) key));
    if (!isPlain) {
      List<Object> pairs = new ArrayList<>();
      for (Map.Entry<?, ?> entry : value.entrySet())
        pairs.add(new ArrayList<>(java.util.Arrays.asList(encode(entry.getKey(), path, depth), encode(entry.getValue(), path, depth))));
      return one("~map", pairs);
    }
    Map<String, Object> plain = new LinkedHashMap<>();
    for (Map.Entry<?, ?> entry : value.entrySet()) plain.put((String) entry.getKey(), encode(entry.getValue(), path, depth));
    boolean isTagged = (plain.size() == 1 && plain.keySet().iterator().next().startsWith("~")) || plain.containsKey("~obj") || plain.containsKey("~list");
    return isTagged ? one("~esc", plain) : plain;
  }

  private static boolean isWellFormed(String text) {
    return StandardCharsets.UTF_8.newEncoder().canEncode(text);
  }

  private static Object text(String value) {
    if (isWellFormed(value)) return value;
    return one("~utf16", Base64.getEncoder().encodeToString(value.getBytes(StandardCharsets.UTF_16LE)));
  }

  private static Object whole(BigInteger value) {
    return value.abs().compareTo(SAFE) <= 0 ? (Object) value.longValue() : one("~int", value.toString());
  }

  private static Object floating(double value) {
    if (Double.isNaN(value)) return one("~num", "NaN");
    if (Double.isInfinite(value)) return one("~num", value > 0 ? "Infinity" : "-Infinity");
    if (value == 0 && 1 / value < 0) return one("~num", "-0");
    return value == Math.rint(value) ? one("~float", Json.shortest(value)) : (Object) value;
  }

  private static String withSeconds(String text) {
    // The platform leaves out seconds that are 0.
    return text.matches(".*T\\d\\d:\\d\\d($|[Z+-].*)") ? text.replaceFirst("(T\\d\\d:\\d\\d)", "$1:00") : text;
  }

  static String message(Throwable error) {
    return error.getMessage() == null ? "" : error.getMessage();
  }

  static String simple(Class<?> kind) {
    String name = kind.getName();
    return name.substring(Math.max(name.lastIndexOf('.'), name.lastIndexOf('$')) + 1);
  }

  static Map<String, Object> one(String key, Object value) {
    Map<String, Object> made = new LinkedHashMap<>();
    made.put(key, value);
    return made;
  }

  private static Map<String, Object> fields(String key, Object value) {
    return one(key, value);
  }

  private static Map<String, Object> object(String name, Map<String, Object> fields) {
    Map<String, Object> made = one("~obj", name);
    made.put("fields", fields);
    return made;
  }

  // -- from notation ------------------------------------------------------------------------------------------

  /** The value as the declared type wants it. */
  Object decode(Object json, Type wanted) throws Misfit {
    Class<?> kind = rawOf(wanted);
    if (json instanceof Map && ((Map<?, ?>) json).containsKey("~as")) return named(json, kind);
    Object value = untag(json);
    if (kind == Object.class || kind == java.io.Serializable.class || kind == Comparable.class) return natural(value);
    if (kind == Optional.class) return value == null ? Optional.empty() : Optional.of(decode(json, argument(wanted, 0)));
    if (kind == OptionalInt.class) return value == null ? OptionalInt.empty() : OptionalInt.of((Integer) decode(json, int.class));
    if (kind == OptionalDouble.class) return value == null ? OptionalDouble.empty() : OptionalDouble.of((Double) decode(json, double.class));
    if (value == null) {
      if (kind.isPrimitive()) throw new Misfit("null is no " + kind.getName());
      return null;
    }
    Object simple = scalar(value, box(kind));
    if (simple != null) return simple;
    if (kind.isArray()) return array(value, kind, wanted);
    if (Map.class.isAssignableFrom(kind)) return map(value, kind, wanted);
    if (Iterable.class.isAssignableFrom(kind) && !isOwn(kind)) return collection(value, kind, wanted);
    if (kind.isEnum()) return member(value, kind);
    if (value instanceof Tagged && ((Tagged) value).tag.equals("~obj")) {
      Tagged tagged = (Tagged) value;
      Class<?> named = classes.find((String) tagged.rest.get("~obj"));
      return instance(named != null && kind.isAssignableFrom(named) ? named : kind, fieldsOf(tagged));
    }
    if (value instanceof Map && isOwn(kind)) return instance(kind, stringKeys((Map<?, ?>) value));
    throw new Misfit(shown(json) + " is no " + simple(kind));
  }

  private static boolean isOwn(Class<?> kind) {
    return kind.getClassLoader() != null && !kind.isInterface();
  }

  private Object named(Object json, Class<?> kind) throws Misfit {
    String name = String.valueOf(((Map<?, ?>) json).get("~as"));
    if (!objects.containsKey(name)) throw new Misfit("no step has named an object \"" + name + "\"");
    Object found = objects.get(name);
    if (found != null && !box(kind).isInstance(found)) throw new Misfit("\"" + name + "\" is no " + simple(kind));
    return found;
  }

  /** Reads a tagged value, for values that plain JSON cannot hold. */
  private static final class Tagged {
    final String tag;
    final Map<String, Object> rest;

    Tagged(String tag, Map<String, Object> rest) {
      this.tag = tag;
      this.rest = rest;
    }
  }

  @SuppressWarnings("unchecked")
  private Object untag(Object json) throws Misfit {
    if (!(json instanceof Map)) return json;
    Map<String, Object> map = (Map<String, Object>) json;
    for (String key : map.keySet()) {
      if (!key.startsWith("~")) continue;
      Object body = map.get(key);
      switch (key) {
        case "~num": return number((String) body);
        case "~int": return new BigInteger((String) body);
        case "~float": return Double.valueOf((String) body);
        case "~dec": return new BigDecimal((String) body);
        case "~bytes": return Base64.getDecoder().decode((String) body);
        case "~utf16": return new String(Base64.getDecoder().decode((String) body), StandardCharsets.UTF_16LE);
        case "~none": return null;
        case "~esc": return body;
        case "~date": return LocalDate.parse((String) body);
        case "~time": return time((String) body);
        case "~tuple": case "~list": return body;
        case "~set": case "~map": case "~obj": return new Tagged(key, map);
        default: throw new Misfit(key + " cannot be handed over in Java");
      }
    }
    return map;
  }

  private static double number(String text) {
    switch (text) {
      case "NaN": return Double.NaN;
      case "Infinity": return Double.POSITIVE_INFINITY;
      case "-Infinity": return Double.NEGATIVE_INFINITY;
      default: return -0.0;
    }
  }

  private static Object time(String text) {
    if (text.matches(".*T.*(Z|[+-]\\d\\d:?\\d\\d)$")) return OffsetDateTime.parse(text);
    return LocalDateTime.parse(text);
  }

  private static Class<?> box(Class<?> kind) {
    return kind.isPrimitive() ? Array.get(Array.newInstance(kind, 1), 0).getClass() : kind;
  }

  /** Null where the type is none of the simple ones, or the value is of another kind. */
  private Object scalar(Object value, Class<?> kind) throws Misfit {
    if (value instanceof String) {
      String text = (String) value;
      if (kind == String.class || kind == CharSequence.class) return text;
      if (kind == StringBuilder.class) return new StringBuilder(text);
      if (kind == Character.class) {
        if (text.length() != 1) throw new Misfit(shown(text) + " is not one character");
        return text.charAt(0);
      }
      return null;
    }
    if (value instanceof Boolean) return kind == Boolean.class ? value : null;
    if (value instanceof Number && (Number.class.isAssignableFrom(kind) || kind == Number.class)) return number((Number) value, kind);
    if (value instanceof LocalDate) {
      LocalDate day = (LocalDate) value;
      if (kind == LocalDate.class) return day;
      if (kind == LocalDateTime.class) return day.atStartOfDay();
      if (kind == java.util.Date.class) return java.util.Date.from(day.atStartOfDay(ZoneOffset.UTC).toInstant());
      return null;
    }
    if (value instanceof LocalDateTime || value instanceof OffsetDateTime) {
      OffsetDateTime at = value instanceof OffsetDateTime ? (OffsetDateTime) value : ((LocalDateTime) value).atOffset(ZoneOffset.UTC);
      if (kind == LocalDateTime.class) return value instanceof LocalDateTime ? value : at.toLocalDateTime();
      if (kind == OffsetDateTime.class) return at;
      if (kind == ZonedDateTime.class) return at.toZonedDateTime();
      if (kind == Instant.class) return at.toInstant();
      if (kind == java.util.Date.class) return java.util.Date.from(at.toInstant());
    }
    return null;
  }

  private static Object number(Number value, Class<?> kind) throws Misfit {
    boolean isFloat = value instanceof Double || value instanceof BigDecimal;
    try {
      if (kind == BigDecimal.class) return value instanceof BigDecimal ? value : value instanceof Double ? BigDecimal.valueOf((Double) value) : new BigDecimal(value.toString());
      if (kind == Double.class) return value.doubleValue();
      if (kind == Float.class) return value.floatValue();
      if (kind == Number.class) return natural(value);
      if (isFloat) throw new Misfit(value + " is no whole number");
      BigInteger whole = new BigInteger(value.toString());
      if (kind == BigInteger.class) return whole;
      if (kind == Long.class) return whole.longValueExact();
      if (kind == Integer.class) return whole.intValueExact();
      if (kind == Short.class) return whole.shortValueExact();
      if (kind == Byte.class) return whole.byteValueExact();
    } catch (ArithmeticException error) {
      throw new Misfit(value + " is out of the range of " + simple(kind));
    }
    throw new Misfit(value + " is no " + simple(kind));
  }

  /** A whole number for Object is an int, where it is in its range. */
  private static Object natural(Number value) {
    if (value instanceof Long) {
      long whole = (Long) value;
      return whole == (int) whole ? (Object) (int) whole : (Object) whole;
    }
    return value;
  }

  private Object natural(Object value) throws Misfit {
    if (value instanceof Number) return natural((Number) value);
    if (value instanceof List) return collection(value, List.class, List.class);
    if (value instanceof Map) return map(value, Map.class, Map.class);
    if (!(value instanceof Tagged)) return value;
    Tagged tagged = (Tagged) value;
    if (tagged.tag.equals("~set")) return collection(value, Set.class, Set.class);
    if (tagged.tag.equals("~map")) return map(value, Map.class, Map.class);
    Class<?> named = classes.find((String) tagged.rest.get("~obj"));
    if (named == null) throw new Misfit("there is no class " + tagged.rest.get("~obj"));
    return named.isEnum() ? member(value, named) : instance(named, fieldsOf(tagged));
  }

  private Object array(Object value, Class<?> kind, Type wanted) throws Misfit {
    if (value instanceof byte[] && kind == byte[].class) return ((byte[]) value).clone();
    if (!(value instanceof List)) throw new Misfit(shown(value) + " is no list");
    List<?> items = (List<?>) value;
    Type inner = wanted instanceof java.lang.reflect.GenericArrayType
        ? ((java.lang.reflect.GenericArrayType) wanted).getGenericComponentType()
        : kind.getComponentType();
    Object made = Array.newInstance(kind.getComponentType(), items.size());
    for (int at = 0; at < items.size(); at++) Array.set(made, at, decode(items.get(at), inner));
    return made;
  }

  private Object collection(Object value, Class<?> kind, Type wanted) throws Misfit {
    Object items = value instanceof Tagged && ((Tagged) value).tag.equals("~set") ? ((Tagged) value).rest.get("~set") : value;
    if (!(items instanceof List)) throw new Misfit(shown(value) + " is no list");
    Collection<Object> made;
    if (SortedSet.class.isAssignableFrom(kind)) made = new TreeSet<>();
    else if (Set.class.isAssignableFrom(kind)) made = new LinkedHashSet<>();
    else if (java.util.Queue.class.isAssignableFrom(kind) && !List.class.isAssignableFrom(kind)) made = new ArrayDeque<>();
    else if (kind == java.util.LinkedList.class) made = new java.util.LinkedList<>();
    else made = new ArrayList<>();
    if (!kind.isInstance(made)) throw new Misfit("a " + simple(kind) + " cannot be made of a list");
    for (Object item : (List<?>) items) made.add(decode(item, argument(wanted, 0)));
    return made;
  }

  private Object map(Object value, Class<?> kind, Type wanted) throws Misfit {
    Map<Object, Object> made = SortedMap.class.isAssignableFrom(kind) ? new TreeMap<>() : new LinkedHashMap<>();
    if (!kind.isInstance(made)) throw new Misfit("a " + simple(kind) + " cannot be made of a map");
    if (value instanceof Tagged && ((Tagged) value).tag.equals("~map")) {
      for (Object pair : (List<?>) ((Tagged) value).rest.get("~map"))
        made.put(decode(((List<?>) pair).get(0), argument(wanted, 0)), decode(((List<?>) pair).get(1), argument(wanted, 1)));
      return made;
    }
    if (!(value instanceof Map)) throw new Misfit(shown(value) + " is no map");
    for (Map.Entry<?, ?> entry : ((Map<?, ?>) value).entrySet())
      made.put(key((String) entry.getKey(), argument(wanted, 0)), decode(entry.getValue(), argument(wanted, 1)));
    return made;
  }

  /** Keys of plain JSON are texts; number keys equal their text. */
  private Object key(String text, Type wanted) throws Misfit {
    Class<?> kind = rawOf(wanted);
    if (Number.class.isAssignableFrom(box(kind)) && text.matches("-?\\d+")) return decode(new BigInteger(text), wanted);
    return decode(text, wanted);
  }

  private Object member(Object value, Class<?> kind) throws Misfit {
    Object name = value instanceof Tagged ? fieldsOf((Tagged) value).get("value") : value;
    for (Object constant : kind.getEnumConstants()) if (((Enum<?>) constant).name().equals(name)) return constant;
    throw new Misfit(shown(name) + " is no " + simple(kind));
  }

  @SuppressWarnings("unchecked")
  private static Map<String, Object> fieldsOf(Tagged tagged) {
    Object fields = tagged.rest.get("fields");
    return fields instanceof Map ? (Map<String, Object>) fields : new LinkedHashMap<>();
  }

  @SuppressWarnings("unchecked")
  private static Map<String, Object> stringKeys(Map<?, ?> map) {
    return (Map<String, Object>) map;
  }

  /** A record by its components; another class by its fields, made without its constructor's say where none is empty. */
  private Object instance(Class<?> kind, Map<String, Object> fields) throws Misfit {
    if (kind.isEnum()) return member(fields.get("value"), kind);
    try {
      if (kind.isRecord()) return record(kind, fields);
      Object made = empty(kind);
      for (Map.Entry<String, Object> entry : fields.entrySet()) {
        Field field = fieldIn(kind, entry.getKey());
        if (field == null) throw new Misfit(simple(kind) + " has no field " + entry.getKey());
        field.setAccessible(true);
        field.set(made, decode(entry.getValue(), field.getGenericType()));
      }
      return made;
    } catch (ReflectiveOperationException | RuntimeException error) {
      throw new Misfit("a " + simple(kind) + " cannot be made: " + error);
    }
  }

  private Object record(Class<?> kind, Map<String, Object> fields) throws Misfit, ReflectiveOperationException {
    RecordComponent[] components = kind.getRecordComponents();
    Class<?>[] types = new Class<?>[components.length];
    Object[] values = new Object[components.length];
    for (int at = 0; at < components.length; at++) {
      types[at] = components[at].getType();
      values[at] = decode(fields.get(components[at].getName()), components[at].getGenericType());
    }
    Constructor<?> made = kind.getDeclaredConstructor(types);
    made.setAccessible(true);
    return made.newInstance(values);
  }

  private static Object empty(Class<?> kind) throws ReflectiveOperationException {
    try {
      Constructor<?> plain = kind.getDeclaredConstructor();
      plain.setAccessible(true);
      return plain.newInstance();
    } catch (NoSuchMethodException none) {
      Constructor<?> made = (Constructor<?>) Class.forName("sun.reflect.ReflectionFactory")
          .getMethod("newConstructorForSerialization", Class.class, Constructor.class)
          .invoke(Class.forName("sun.reflect.ReflectionFactory").getMethod("getReflectionFactory").invoke(null), kind, Object.class.getDeclaredConstructor());
      return made.newInstance();
    }
  }

  private static Field fieldIn(Class<?> kind, String name) {
    for (Class<?> at = kind; at != null; at = at.getSuperclass()) {
      for (Field field : at.getDeclaredFields()) if (field.getName().equals(name)) return field;
    }
    return null;
  }

  static Class<?> rawOf(Type type) {
    if (type instanceof Class) return (Class<?>) type;
    if (type instanceof ParameterizedType) return rawOf(((ParameterizedType) type).getRawType());
    if (type instanceof WildcardType) return rawOf(((WildcardType) type).getUpperBounds()[0]);
    if (type instanceof TypeVariable) return rawOf(((TypeVariable<?>) type).getBounds()[0]);
    if (type instanceof java.lang.reflect.GenericArrayType)
      return Array.newInstance(rawOf(((java.lang.reflect.GenericArrayType) type).getGenericComponentType()), 0).getClass();
    return Object.class;
  }

  private static Type argument(Type type, int at) {
    if (!(type instanceof ParameterizedType)) return Object.class;
    Type[] all = ((ParameterizedType) type).getActualTypeArguments();
    return at < all.length ? all[at] : Object.class;
  }

  static String shown(Object value) {
    String text = value instanceof Tagged ? ((Tagged) value).rest.toString() : value instanceof String ? "\"" + value + "\"" : String.valueOf(value);
    return text.length() > 80 ? text.substring(0, 80) + "…" : text;
  }
}
