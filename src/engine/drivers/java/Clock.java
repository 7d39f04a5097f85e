package sidetwin;

import java.lang.invoke.MethodType;
import java.lang.reflect.Method;
import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.LocalTime;
import java.time.MonthDay;
import java.time.OffsetDateTime;
import java.time.OffsetTime;
import java.time.Year;
import java.time.YearMonth;
import java.time.ZoneId;
import java.time.ZonedDateTime;
import java.util.Calendar;
import java.util.Collections;
import java.util.Date;
import java.util.GregorianCalendar;
import java.util.HashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Random;
import java.util.TimeZone;
import java.util.UUID;

/**
 * The clock and the random numbers that the side's classes meet in place of the platform's (see Redirected): fixed where a
 * case asks for it. `Owner_method` replaces a static method, `Owner_new` a constructor without arguments.
 */
public final class Clock {
  private static Instant at;
  private static Random random;

  private Clock() {}

  /** Fixes both for a case; null lets them go. */
  static void fix(String now, Number seed) {
    at = now == null ? null : OffsetDateTime.parse(now).toInstant();
    random = seed == null ? null : new Random(seed.longValue());
  }

  private static java.time.Clock in(ZoneId zone) {
    return at == null ? java.time.Clock.system(zone) : java.time.Clock.fixed(at, zone);
  }

  private static java.time.Clock here() {
    return in(ZoneId.systemDefault());
  }

  public static long System_currentTimeMillis() {
    return here().millis();
  }

  public static java.time.Clock Clock_systemUTC() {
    return in(java.time.ZoneOffset.UTC);
  }

  public static java.time.Clock Clock_systemDefaultZone() {
    return here();
  }

  public static java.time.Clock Clock_system(ZoneId zone) {
    return in(zone);
  }

  public static Instant Instant_now() {
    return here().instant();
  }

  public static LocalDate LocalDate_now() {
    return LocalDate.now(here());
  }

  public static LocalDate LocalDate_now(ZoneId zone) {
    return LocalDate.now(in(zone));
  }

  public static LocalTime LocalTime_now() {
    return LocalTime.now(here());
  }

  public static LocalTime LocalTime_now(ZoneId zone) {
    return LocalTime.now(in(zone));
  }

  public static LocalDateTime LocalDateTime_now() {
    return LocalDateTime.now(here());
  }

  public static LocalDateTime LocalDateTime_now(ZoneId zone) {
    return LocalDateTime.now(in(zone));
  }

  public static ZonedDateTime ZonedDateTime_now() {
    return ZonedDateTime.now(here());
  }

  public static ZonedDateTime ZonedDateTime_now(ZoneId zone) {
    return ZonedDateTime.now(in(zone));
  }

  public static OffsetDateTime OffsetDateTime_now() {
    return OffsetDateTime.now(here());
  }

  public static OffsetDateTime OffsetDateTime_now(ZoneId zone) {
    return OffsetDateTime.now(in(zone));
  }

  public static OffsetTime OffsetTime_now() {
    return OffsetTime.now(here());
  }

  public static Year Year_now() {
    return Year.now(here());
  }

  public static YearMonth YearMonth_now() {
    return YearMonth.now(here());
  }

  public static MonthDay MonthDay_now() {
    return MonthDay.now(here());
  }

  public static Date Date_new() {
    return new Date(here().millis());
  }

  public static GregorianCalendar GregorianCalendar_new() {
    return (GregorianCalendar) set(new GregorianCalendar());
  }

  public static Calendar Calendar_getInstance() {
    return set(Calendar.getInstance());
  }

  public static Calendar Calendar_getInstance(TimeZone zone) {
    return set(Calendar.getInstance(zone));
  }

  public static Calendar Calendar_getInstance(Locale place) {
    return set(Calendar.getInstance(place));
  }

  public static Calendar Calendar_getInstance(TimeZone zone, Locale place) {
    return set(Calendar.getInstance(zone, place));
  }

  private static Calendar set(Calendar calendar) {
    if (at != null) calendar.setTimeInMillis(at.toEpochMilli());
    return calendar;
  }

  public static double Math_random() {
    return random == null ? Math.random() : random.nextDouble();
  }

  public static Random Random_new() {
    return random == null ? new Random() : new Random(random.nextLong());
  }

  public static UUID UUID_randomUUID() {
    if (random == null) return UUID.randomUUID();
    long high = random.nextLong() & ~0xf000L | 0x4000L;
    return new UUID(high, random.nextLong() & ~(3L << 62) | 1L << 63);
  }

  public static void Collections_shuffle(List<?> list) {
    if (random == null) Collections.shuffle(list);
    else Collections.shuffle(list, random);
  }

  private static final String[] PACKAGES = {"java.lang.", "java.time.", "java.util."};
  /** `java/time/Instant.now()Ljava/time/Instant;` → the method here. */
  static final Map<String, Method> METHODS = methods();

  private static Map<String, Method> methods() {
    Map<String, Method> found = new HashMap<>();
    for (Method method : Clock.class.getDeclaredMethods()) {
      int cut = method.getName().indexOf('_');
      if (cut == -1) continue;
      String name = method.getName().substring(cut + 1);
      String owner = fullName(method.getName().substring(0, cut)).replace('.', '/');
      found.put(owner + (name.equals("new") ? ".<init>()V" : "." + name + descriptor(method)), method);
    }
    return found;
  }

  static String descriptor(Method method) {
    return MethodType.methodType(method.getReturnType(), method.getParameterTypes()).toMethodDescriptorString();
  }

  private static String fullName(String simple) {
    for (String prefix : PACKAGES) {
      try {
        return Class.forName(prefix + simple).getName();
      } catch (ClassNotFoundException none) {
        // The next package may have it.
      }
    }
    throw new IllegalStateException(simple);
  }
}
