package marsh.gauge.report;

import java.util.List;
import marsh.gauge.wire.Packet;

/** Levels of a river in centimetres; see marsh.gauge.report.Main. */
public final class Levels {
  private Levels() {}

  public static int highest(List<Integer> levels) {
    return levels.stream().mapToInt(Integer::intValue).max().orElse(0);
  }

  public static String send(int level) {
    return new Packet(level).encode();
  }
}
