import java.time.LocalDate;
import java.util.Arrays;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;

class Side {
  static class NegativeError extends RuntimeException {
    NegativeError(String message) { super(message); }
  }

  static class NoRoomError extends Exception {
    NoRoomError(String message) { super(message); }
  }

  record Boat(String name, int metres) {}

  static class Quay {
    private int room;

    Quay(int room) { this.room = room; }

    int moor(Boat boat) throws NoRoomError {
      if (boat.metres() > room) throw new NoRoomError("no room");
      room -= boat.metres();
      return room;
    }

    boolean larger(Quay other) { return room > other.room; }
  }

  private static int ticks = 0;

  static int twice(int number) { return number * 2; }
  static double half(double number) { return number / 2; }
  static String join(List<String> words, String separator) { return String.join(separator, words); }
  static boolean is_even(int number) { return number % 2 == 0; }

  static Map<String, Integer> count(String[] words) {
    Map<String, Integer> counts = new TreeMap<>();
    for (String word : words) counts.merge(word, 1, Integer::sum);
    return counts;
  }

  static Set<String> distinct(List<String> words) { return new TreeSet<>(words); }
  static Optional<Boat> longest(List<Boat> boats) { return boats.stream().max(Comparator.comparing(Boat::metres)); }
  static void fill(int[] numbers, int value) { Arrays.fill(numbers, value); }
  static void greet(String name) { System.out.println("hello " + name); }

  private static int refuse(int number) {
    if (number < 0) throw new NegativeError("negative");
    return number;
  }

  static long big() { return Long.MAX_VALUE; }
  static double odd_number(int which) { return new double[] {Double.NaN, Double.POSITIVE_INFINITY, -0.0}[which]; }

  static byte[] reversed_bytes(byte[] data) {
    byte[] made = new byte[data.length];
    for (int at = 0; at < data.length; at++) made[at] = data[data.length - 1 - at];
    return made;
  }

  static LocalDate next_day(LocalDate day) { return day.plusDays(1); }
  static int tick() { return ++ticks; }
  static Object nested(Object value) { return value; }
}
