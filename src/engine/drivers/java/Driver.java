package sidetwin;

import java.io.BufferedReader;
import java.io.ByteArrayOutputStream;
import java.io.File;
import java.io.InputStreamReader;
import java.io.OutputStream;
import java.io.PrintStream;
import java.io.PrintWriter;
import java.io.StringWriter;
import java.lang.reflect.Constructor;
import java.lang.reflect.Executable;
import java.lang.reflect.Field;
import java.lang.reflect.InvocationTargetException;
import java.lang.reflect.Method;
import java.lang.reflect.Modifier;
import java.lang.reflect.Type;
import java.net.URL;
import java.net.URLClassLoader;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.MessageDigest;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * Side Twin's driver for Java: calls what is compiled of a side's sources, and answers in JSON Lines (docs/formats.md, section 7).
 * Requests come in on standard input, replies leave on standard output, which are the protocol's descriptors 3 and 4; what ported
 * code prints is caught. Started as `java … sidetwin.Driver CLASSES…`, the folders and archives with the side's classes.
 */
public final class Driver {
  private final PrintStream replies;
  private final URL[] classPath;
  private final Capture printed = new Capture();
  private Path root = Path.of("");
  private String secret;
  private long outputLimit = 8192 * 1024;
  private SideLoader loader;

  private Driver(PrintStream replies, URL[] classPath) {
    this.replies = replies;
    this.classPath = classPath;
  }

  public static void main(String[] args) throws Exception {
    URL[] classPath = new URL[args.length];
    for (int at = 0; at < args.length; at++) classPath[at] = new File(args[at]).toURI().toURL();
    Driver driver = new Driver(System.out, classPath);
    BufferedReader requests = new BufferedReader(new InputStreamReader(System.in, StandardCharsets.UTF_8), 1 << 16);
    PrintStream caught = new PrintStream(driver.printed, true, StandardCharsets.UTF_8);
    System.setOut(caught);
    System.setIn(new java.io.ByteArrayInputStream(new byte[0]));
    Ended.watch();
    StringBuilder held = new StringBuilder();
    for (String line = requests.readLine(); line != null; line = requests.readLine()) {
      @SuppressWarnings("unchecked")
      Map<String, Object> request = (Map<String, Object>) Json.parse(line);
      if ("bye".equals(request.get("op"))) break;
      driver.answer(request, held);
      // Replies leave together while requests are at hand; asked to be alone, one has left before the next case can end the process.
      if (!requests.ready() || request.containsKey("alone") || held.length() > 1 << 18) driver.flush(held);
    }
    driver.flush(held);
    System.out.flush();
    Runtime.getRuntime().halt(0);
  }

  private void flush(StringBuilder held) {
    replies.write(held.toString().getBytes(StandardCharsets.UTF_8), 0, held.toString().getBytes(StandardCharsets.UTF_8).length);
    replies.flush();
    held.setLength(0);
  }

  private void answer(Map<String, Object> request, StringBuilder held) {
    Map<String, Object> reply;
    try {
      reply = run(request);
    } catch (Missing missing) {
      reply = Notation.one("missing", missing.getMessage());
    } catch (WouldNotLoad error) {
      reply = broken("would-not-load", error.getMessage());
    } catch (Notation.Misfit misfit) {
      reply = broken("would-not-load", misfit.getMessage());
    } catch (Ended ended) {
      reply = broken("ended", ended.getMessage());
    } catch (OutOfMemoryError error) {
      reply = broken("over-limit", "it ran out of memory");
    } catch (Throwable error) {
      reply = Notation.one("error", String.valueOf(error));
    }
    boolean isCase = "call".equals(request.get("op")) || "steps".equals(request.get("op"));
    if (isCase) {
      String text = printed.take(outputLimit);
      if (text == null) reply = broken("over-limit", "it printed more than " + outputLimit / 1024 + " KB");
      else if (!reply.containsKey("broken")) reply.put("printed", text);
    }
    long id = ((Number) request.get("id")).longValue();
    held.append("{\"id\":").append(id);
    if (secret != null) held.append(",\"tag\":\"").append(tag(id)).append('"');
    Object ms = reply.remove("ms");
    if (ms != null) held.append(",\"ms\":").append(ms);
    if (isCase) held.append(Lines.take());
    String rest = Json.write(reply);
    held.append(rest.equals("{}") ? "}" : "," + rest.substring(1)).append('\n');
  }

  private static Map<String, Object> broken(String why, String what) {
    Map<String, Object> facts = Notation.one("why", why);
    facts.put("what", what);
    facts.put("lastOutput", "");
    return Notation.one("broken", facts);
  }

  private String tag(long id) {
    try {
      byte[] digest = MessageDigest.getInstance("SHA-512").digest((secret + ":" + (id >> 4)).getBytes(StandardCharsets.US_ASCII));
      StringBuilder text = new StringBuilder();
      for (int at = (int) (id & 15) * 4; at < (id & 15) * 4 + 4; at++) text.append(String.format("%02x", digest[at]));
      return text.toString();
    } catch (java.security.NoSuchAlgorithmException error) {
      throw new IllegalStateException(error);
    }
  }

  @SuppressWarnings("unchecked")
  private Map<String, Object> run(Map<String, Object> request) throws Throwable {
    now = (String) request.get("now");
    Clock.fix(now, (Number) request.get("seed"));
    switch (String.valueOf(request.get("op"))) {
      case "hello":
        root = Path.of((String) request.getOrDefault("root", "."));
        secret = (String) request.get("secret");
        if (request.get("outputKb") != null) outputLimit = ((Number) request.get("outputKb")).longValue() * 1024;
        Map<String, Object> hello = Notation.one("bridge", 1L);
        hello.put("language", "java");
        hello.put("version", System.getProperty("java.version"));
        return hello;
      case "reset":
        loader = null;
        return new LinkedHashMap<>();
      case "load": {
        List<Object> names = new ArrayList<>();
        Class<?> home = homeOf(world(false), filesOf(request).get(0));
        for (Method method : home.getDeclaredMethods()) {
          Map<String, Object> fact = Notation.one("name", method.getName());
          fact.put("kind", "function");
          fact.put("params", parameterNames(method));
          names.add(fact);
        }
        return Notation.one("names", names);
      }
      case "call": {
        SideLoader world = world("kept".equals(request.get("state")));
        Notation notation = new Notation(name -> classNamed(world, filesOf(request), name), new HashMap<>());
        return call(world, request, (List<Object>) request.getOrDefault("args", List.of()), request, null, notation);
      }
      case "steps":
        return steps(request);
      default:
        return Notation.one("error", "unknown op " + request.get("op") + "; known: hello, load, call, steps, reset");
    }
  }

  @SuppressWarnings("unchecked")
  private static List<String> filesOf(Map<String, Object> request) {
    Object files = request.get("files");
    return files == null ? List.of((String) request.get("file")) : (List<String>) (List<?>) (List<Object>) files;
  }

  @SuppressWarnings("unchecked")
  private static List<String> namesOf(Map<String, Object> request, String key) {
    Object names = request.get(key + "s") == null ? request.get(key) : request.get(key + "s");
    return names instanceof String ? List.of((String) names) : (List<String>) (List<?>) (List<Object>) names;
  }

  // -- state --------------------------------------------------------------------------------------------------

  /** The fixed time of the case; null for none. */
  private String now = null;

  /** Classes in which no case left anything: those of the case before, unless one of them has statics that can change. */
  private SideLoader world(boolean isKept) {
    boolean isOther = loader != null && !java.util.Objects.equals(loader.now, now);
    if (loader == null || isOther || (!isKept && loader.canChange())) {
      loader = new SideLoader(classPath);
      loader.now = now;
    }
    return loader;
  }

  private static final class SideLoader extends URLClassLoader {
    private final List<Class<?>> own = new ArrayList<>();
    private int looked = 0;
    /** The fixed time that its classes were loaded at; null for none. */
    private String now = null;
    private boolean canChange = false;

    SideLoader(URL[] classPath) {
      super(classPath, ClassLoader.getPlatformClassLoader());
    }

    @Override
    protected Class<?> findClass(String name) throws ClassNotFoundException {
      // Probes call the driver's own.
      if (name.equals("sidetwin.Lines")) return Lines.class;
      if (name.equals("sidetwin.Clock")) return Clock.class;
      Class<?> found = define(name);
      own.add(found);
      return found;
    }

    private Class<?> define(String name) throws ClassNotFoundException {
      URL place = findResource(name.replace('.', '/') + ".class");
      if (place == null) throw new ClassNotFoundException(name);
      try (java.io.InputStream in = place.openStream()) {
        byte[] code = in.readAllBytes();
        byte[] made = Redirected.of(code);
        // A class that asks for nothing of the kind is defined by the platform, which knows packages and seals too.
        return made == code ? super.findClass(name) : defineClass(name, made, 0, made.length);
      } catch (java.io.IOException error) {
        throw new ClassNotFoundException(name, error);
      }
    }

    boolean canChange() {
      for (; looked < own.size() && !canChange; looked++) {
        try {
          for (Field field : own.get(looked).getDeclaredFields()) canChange |= Modifier.isStatic(field.getModifiers()) && isState(field);
        } catch (LinkageError error) {
          canChange = true;
        }
      }
      return canChange;
    }

    private static boolean isState(Field field) {
      if (field.isSynthetic() || field.isEnumConstant()) return false;
      Class<?> kind = field.getType();
      boolean isValue = kind.isPrimitive() || kind == String.class || kind.isEnum() || kind.isRecord() || kind == Pattern.class
          || kind.getName().startsWith("java.time.") || kind.getName().startsWith("java.math.") || kind == Integer.class || kind == Long.class || kind == Double.class;
      return !Modifier.isFinal(field.getModifiers()) || !isValue;
    }
  }

  private static final Pattern PACKAGE = Pattern.compile("^\\s*package\\s+([\\w.]+)\\s*;", Pattern.MULTILINE);
  private static final Pattern DECLARED = Pattern.compile("^(?:public\\s+|final\\s+|abstract\\s+|sealed\\s+|strictfp\\s+)*(?:class|interface|enum|record|@interface)\\s+(\\w+)", Pattern.MULTILINE);
  private final Map<String, List<String>> declared = new HashMap<>();

  /** The classes of a file: that of its name first, then the others it declares. */
  private List<String> classesIn(String file) throws Missing {
    List<String> known = declared.get(file);
    if (known != null) return known;
    try {
      String text = Files.readString(root.resolve(file));
      Matcher found = PACKAGE.matcher(text);
      String prefix = found.find() ? found.group(1) + "." : "";
      String stem = Path.of(file).getFileName().toString().replaceFirst("\\.java$", "");
      List<String> names = new ArrayList<>();
      for (Matcher each = DECLARED.matcher(text); each.find(); ) names.add(prefix + each.group(1));
      names.sort((left, right) -> Boolean.compare(right.equals(prefix + stem), left.equals(prefix + stem)));
      declared.put(file, names);
      return names;
    } catch (java.io.IOException error) {
      throw new Missing(file);
    }
  }

  private Class<?> homeOf(SideLoader world, String file) throws Missing, WouldNotLoad {
    List<String> names = classesIn(file);
    if (names.isEmpty()) throw new Missing(file);
    return load(world, names.get(0), file);
  }

  private static Class<?> load(SideLoader world, String name, String file) throws WouldNotLoad {
    try {
      return Class.forName(name, true, world);
    } catch (ClassNotFoundException error) {
      throw new WouldNotLoad(complaintOf(file));
    } catch (ExceptionInInitializerError error) {
      throw new WouldNotLoad(Notation.simple(error.getCause().getClass()) + ": " + Notation.message(error.getCause()));
    } catch (LinkageError error) {
      throw new WouldNotLoad(error.toString());
    }
  }

  /** The compiler's first message about a file, else its first message at all. */
  private static String complaintOf(String file) {
    String first = file + " was not compiled";
    try {
      List<String> lines = Files.readAllLines(Path.of(System.getProperty("sidetwin.complaints", "")));
      for (String line : lines) {
        if (!line.contains(".java:")) continue;
        if (line.contains(file + ":")) return line.substring(line.indexOf(file));
        if (first.endsWith("compiled")) first = first + ": " + line;
      }
    } catch (java.io.IOException none) {
      // Nothing was said.
    }
    return first;
  }

  /** A class by its simple name: of the files, nested in one of their classes, or beside them in the package. */
  private Class<?> classNamed(SideLoader world, List<String> files, String wanted) {
    String simple = wanted.substring(wanted.lastIndexOf('.') + 1);
    try {
      for (String file : files) {
        for (String name : classesIn(file)) {
          Class<?> own = load(world, name, file);
          if (Notation.simple(own).equals(simple)) return own;
          for (Class<?> inner : own.getDeclaredClasses()) if (inner.getSimpleName().equals(simple)) return inner;
        }
        String first = classesIn(file).get(0);
        int dot = first.lastIndexOf('.');
        try {
          return Class.forName(first.substring(0, dot + 1) + simple, true, world);
        } catch (ClassNotFoundException | LinkageError none) {
          // The next file may know it.
        }
      }
    } catch (Missing | WouldNotLoad | RuntimeException none) {
      return null;
    }
    return null;
  }

  // -- calls --------------------------------------------------------------------------------------------------

  private Map<String, Object> call(SideLoader world, Map<String, Object> request, List<Object> args, Map<String, Object> step, Object target, Notation notation)
      throws Throwable {
    String key = step.containsKey("name") || step.containsKey("names") ? "name" : "call";
    for (String name : namesOf(step, key)) {
      List<Executable> candidates = target == null ? staticsNamed(world, filesOf(request), name) : methodsNamed(target.getClass(), name, false);
      if (!candidates.isEmpty()) return invoke(candidates, target, args, notation);
    }
    throw new Missing(namesOf(step, key).get(0));
  }

  private List<Executable> staticsNamed(SideLoader world, List<String> files, String name) throws Missing, WouldNotLoad {
    int dot = name.lastIndexOf('.');
    if (dot != -1) {
      Class<?> owner = classNamed(world, files, name.substring(0, dot));
      return owner == null ? List.of() : methodsNamed(owner, name.substring(dot + 1), true);
    }
    for (String file : files) {
      for (String own : classesIn(file)) {
        List<Executable> found = methodsNamed(load(world, own, file), name, true);
        if (!found.isEmpty()) return found;
      }
    }
    return List.of();
  }

  private static List<Executable> methodsNamed(Class<?> kind, String name, boolean isStatic) {
    List<Executable> found = new ArrayList<>();
    for (Class<?> at = kind; at != null; at = at.getSuperclass()) addNamed(at, name, isStatic, found);
    // Default methods.
    for (Class<?> at = kind; at != null && !isStatic; at = at.getSuperclass())
      for (Class<?> shape : at.getInterfaces()) addNamed(shape, name, false, found);
    return found;
  }

  private static void addNamed(Class<?> kind, String name, boolean isStatic, List<Executable> found) {
    for (Method method : kind.getDeclaredMethods()) {
      if (!method.getName().equals(name) || method.isBridge() || Modifier.isStatic(method.getModifiers()) != isStatic) continue;
      if (Modifier.isAbstract(method.getModifiers())) continue;
      boolean isKnown = found.stream().anyMatch(other -> Arrays.equals(other.getParameterTypes(), method.getParameterTypes()));
      if (!isKnown) found.add(method);
    }
  }

  private static List<Object> parameterNames(Executable made) {
    List<Object> names = new ArrayList<>();
    for (java.lang.reflect.Parameter parameter : made.getParameters()) names.add(parameter.getName());
    return names;
  }

  /** The first of the overloads that takes the arguments, whole numbers before floats; arguments as it wants them. */
  private Map<String, Object> invoke(List<Executable> candidates, Object target, List<Object> args, Notation notation) throws Throwable {
    List<Executable> ordered = new ArrayList<>(candidates);
    ordered.sort((left, right) -> Integer.compare(rank(left), rank(right)));
    Notation.Misfit first = null;
    for (Executable candidate : ordered) {
      try {
        Object[] given = given(candidate, args, notation);
        return finish(candidate, target, given);
      } catch (Notation.Misfit misfit) {
        if (first == null) first = misfit;
      }
    }
    throw first;
  }

  /** Overloads that take more exact types come first, and those with a fixed number of arguments. */
  private static int rank(Executable candidate) {
    int sum = candidate.isVarArgs() ? 1000 : 0;
    for (Class<?> kind : candidate.getParameterTypes()) {
      if (kind == Object.class) sum += 50;
      else if (kind == double.class || kind == Double.class) sum += 10;
      else if (kind == float.class || kind == Float.class) sum += 12;
      else if (kind == long.class || kind == Long.class) sum += 2;
      else if (kind == int.class || kind == Integer.class) sum += 1;
      else if (kind == short.class || kind == byte.class) sum += 4;
      else sum += 3;
    }
    return sum;
  }

  private static Object[] given(Executable candidate, List<Object> args, Notation notation) throws Notation.Misfit {
    Type[] types = candidate.getGenericParameterTypes();
    if (types.length != candidate.getParameterCount()) types = candidate.getParameterTypes();
    int fixed = candidate.isVarArgs() ? types.length - 1 : types.length;
    if (candidate.isVarArgs() ? args.size() < fixed : args.size() != fixed)
      throw new Notation.Misfit(candidate.getName() + " takes " + fixed + (fixed == 1 ? " argument" : " arguments") + ", not " + args.size());
    Object[] given = new Object[types.length];
    for (int at = 0; at < fixed; at++) given[at] = fitted(candidate, at, args.get(at), types[at], notation);
    if (candidate.isVarArgs()) {
      Object rest = args.size() == types.length && args.get(fixed) instanceof List ? args.get(fixed) : new ArrayList<>(args.subList(fixed, args.size()));
      given[fixed] = fitted(candidate, fixed, rest, types[fixed], notation);
    }
    return given;
  }

  private static Object fitted(Executable candidate, int at, Object value, Type type, Notation notation) throws Notation.Misfit {
    try {
      return notation.decode(value, type);
    } catch (Notation.Misfit misfit) {
      throw new Notation.Misfit("the argument " + candidate.getParameters()[at].getName() + " of " + candidate.getName() + ": " + misfit.getMessage());
    }
  }

  private Object last;

  private Map<String, Object> finish(Executable candidate, Object target, Object[] given) throws Throwable {
    candidate.setAccessible(true);
    Map<String, Object> reply = new LinkedHashMap<>();
    last = null;
    long since = System.nanoTime();
    try {
      last = candidate instanceof Constructor ? ((Constructor<?>) candidate).newInstance(given) : ((Method) candidate).invoke(target, given);
      if (last instanceof java.util.concurrent.Future) last = ((java.util.concurrent.Future<?>) last).get();
      reply.put("ms", (System.nanoTime() - since) / 1e6);
      reply.put("value", Notation.encode(last));
    } catch (InvocationTargetException | java.util.concurrent.ExecutionException wrapped) {
      Throwable error = wrapped.getCause();
      if (error instanceof Ended) throw error;
      if (error instanceof OutOfMemoryError) throw error;
      if (error instanceof ExceptionInInitializerError || error instanceof NoClassDefFoundError) throw new WouldNotLoad(String.valueOf(error.getCause() == null ? error : error.getCause()));
      reply.put("ms", (System.nanoTime() - since) / 1e6);
      reply.put("thrown", thrown(error));
    } catch (InstantiationException error) {
      throw new WouldNotLoad(Notation.simple(candidate.getDeclaringClass()) + " is abstract: name a class that can be made");
    }
    List<Object> after = new ArrayList<>();
    for (int at = 0; at < given.length; at++) {
      boolean isRest = candidate.isVarArgs() && at == given.length - 1;
      Object encoded = Notation.encode(given[at]);
      if (isRest && encoded instanceof List) after.addAll((List<?>) encoded);
      else after.add(encoded);
    }
    reply.put("args", after);
    return reply;
  }

  private static Map<String, Object> thrown(Throwable error) {
    StringWriter trace = new StringWriter();
    error.printStackTrace(new PrintWriter(trace));
    Map<String, Object> made = Notation.one("kind", Notation.simple(error.getClass()));
    made.put("message", Notation.message(error));
    String text = trace.toString();
    int ours = text.indexOf("\tat java.base/jdk.internal.reflect");
    made.put("trace", ours == -1 ? text : text.substring(0, ours));
    return made;
  }

  // -- steps --------------------------------------------------------------------------------------------------

  @SuppressWarnings("unchecked")
  private Map<String, Object> steps(Map<String, Object> request) throws Throwable {
    SideLoader world = world("kept".equals(request.get("state")));
    Map<String, Object> objects = new HashMap<>();
    Notation notation = new Notation(name -> classNamed(world, filesOf(request), name), objects);
    List<Object> results = new ArrayList<>();
    for (Object each : (List<Object>) request.get("steps")) {
      Map<String, Object> step = (Map<String, Object>) each;
      Map<String, Object> result = step(world, request, step, objects, notation);
      result.remove("ms");
      results.add(result);
      if (step.get("as") != null && result.containsKey("value")) objects.put((String) step.get("as"), last);
    }
    return Notation.one("steps", results);
  }

  @SuppressWarnings("unchecked")
  private Map<String, Object> step(SideLoader world, Map<String, Object> request, Map<String, Object> step, Map<String, Object> objects, Notation notation)
      throws Throwable {
    Object target = null;
    if (step.get("on") != null) {
      if (!objects.containsKey(step.get("on"))) throw new Missing((String) step.get("on"));
      target = objects.get(step.get("on"));
      if (target == null) throw new WouldNotLoad("the object \"" + step.get("on") + "\" is null");
    }
    List<Object> args = (List<Object>) step.getOrDefault("args", List.of());
    List<Object> plain = new ArrayList<>(args);
    if (step.containsKey("new")) {
      for (String name : namesOf(step, "new")) {
        Class<?> kind = classNamed(world, filesOf(request), name);
        List<Executable> makers = kind == null ? new ArrayList<>(staticsNamed(world, filesOf(request), name)) : new ArrayList<>(List.of(kind.getDeclaredConstructors()));
        if (makers.isEmpty()) continue;
        Map<String, Object> result = invoke(makers, null, plain, notation);
        if (result.containsKey("value")) {
          // A new object is known by its class; its inside is looked at by later steps.
          Map<String, Object> made = Notation.one("~obj", "new");
          made.put("fields", new LinkedHashMap<>());
          result.put("value", made);
        }
        return withoutHandles(result, args);
      }
      throw new Missing(namesOf(step, "new").get(0));
    }
    if (step.containsKey("call")) return withoutHandles(call(world, request, plain, step, target, notation), args);
    if (step.containsKey("get")) return get(target, namesOf(step, "get"));
    return set(target, namesOf(step, "set"), step.get("value"), notation);
  }

  /** An object that a step handed over is not looked at after the call. */
  @SuppressWarnings("unchecked")
  private static Map<String, Object> withoutHandles(Map<String, Object> result, List<Object> args) {
    List<Object> after = (List<Object>) result.get("args");
    for (int at = 0; after != null && at < after.size() && at < args.size(); at++)
      if (args.get(at) instanceof Map && ((Map<?, ?>) args.get(at)).containsKey("~as")) after.set(at, args.get(at));
    return result;
  }

  private Map<String, Object> get(Object target, List<String> names) throws Throwable {
    for (String name : names) {
      Field field = fieldOf(target.getClass(), name);
      if (field != null) {
        field.setAccessible(true);
        last = field.get(target);
        return Notation.one("value", Notation.encode(last));
      }
      String capital = Character.toUpperCase(name.charAt(0)) + name.substring(1);
      for (String getter : List.of(name, "get" + capital, "is" + capital)) {
        List<Executable> found = methodsNamed(target.getClass(), getter, false);
        found.removeIf(method -> method.getParameterCount() > 0);
        if (!found.isEmpty()) {
          Map<String, Object> result = finish(found.get(0), target, new Object[0]);
          result.remove("args");
          return result;
        }
      }
    }
    throw new Missing(names.get(0));
  }

  private Map<String, Object> set(Object target, List<String> names, Object value, Notation notation) throws Throwable {
    for (String name : names) {
      Field field = fieldOf(target.getClass(), name);
      if (field != null) {
        field.setAccessible(true);
        field.set(target, notation.decode(value, field.getGenericType()));
        last = null;
        return Notation.one("value", null);
      }
      List<Executable> found = methodsNamed(target.getClass(), "set" + Character.toUpperCase(name.charAt(0)) + name.substring(1), false);
      if (!found.isEmpty()) {
        Map<String, Object> result = invoke(found, target, new ArrayList<>(Arrays.asList(value)), notation);
        result.remove("args");
        return result;
      }
    }
    throw new Missing(names.get(0));
  }

  private static Field fieldOf(Class<?> kind, String name) {
    for (Class<?> at = kind; at != null; at = at.getSuperclass())
      for (Field field : at.getDeclaredFields()) if (field.getName().equals(name) && !field.isSynthetic()) return field;
    return null;
  }

  // -- parts --------------------------------------------------------------------------------------------------

  private static final class Missing extends Exception {
    Missing(String name) {
      super(name);
    }
  }

  private static final class WouldNotLoad extends Exception {
    WouldNotLoad(String what) {
      super(what);
    }
  }

  /** Captures what ported code prints, up to a limit. */
  private static final class Capture extends OutputStream {
    private final ByteArrayOutputStream bytes = new ByteArrayOutputStream();
    private long count = 0;

    @Override
    public synchronized void write(int value) {
      count++;
      if (count < 1 << 26) bytes.write(value);
    }

    @Override
    public synchronized void write(byte[] data, int from, int length) {
      count += length;
      if (count < 1 << 26) bytes.write(data, from, length);
    }

    synchronized String take(long limit) {
      if (count == 0) return "";
      String text = count > limit ? null : bytes.toString(StandardCharsets.UTF_8);
      bytes.reset();
      count = 0;
      return text;
    }
  }

  /** Thrown in place of ending the process, so that one case cannot take the others with it. */
  @SuppressWarnings("removal")
  private static final class Ended extends SecurityException {
    Ended(int status) {
      super("it ended the process: exit(" + status + ")");
    }

    static void watch() {
      try {
        System.setSecurityManager(new SecurityManager() {
          @Override
          public void checkPermission(java.security.Permission permission) {}

          @Override
          public void checkPermission(java.security.Permission permission, Object context) {}

          @Override
          public void checkExit(int status) {
            throw new Ended(status);
          }
        });
      } catch (UnsupportedOperationException none) {
        // Later versions cannot: the case that ends the process is found by the engine.
      }
    }
  }
}
