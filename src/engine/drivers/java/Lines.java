package sidetwin;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

/** Which lines a case ran, by the probes in the copy of the sources. */
public final class Lines {
  private static final List<String> FILES = new ArrayList<>();
  private static final List<Integer> NUMBERS = new ArrayList<>();
  private static final byte[] HITS = read();
  /** The sets of lines that ran, by their probes. */
  private static final Map<String, Integer> SETS = new HashMap<>();

  private Lines() {}

  /** Notes that a statement was reached. */
  public static void hit(int number) {
    HITS[number] = 1;
  }

  private static byte[] read() {
    String file = System.getProperty("sidetwin.probes");
    if (file == null) return new byte[0];
    try {
      for (String line : Files.readAllLines(Path.of(file))) {
        int tab = line.indexOf('\t');
        NUMBERS.add(Integer.valueOf(line.substring(0, tab)));
        FILES.add(line.substring(tab + 1));
      }
    } catch (IOException error) {
      throw new IllegalStateException(error);
    }
    return new byte[FILES.size()];
  }

  /** Returns the reply members for the lines run since the last call: the set's number, and its lines the first time. */
  static String take() {
    if (HITS.length == 0) return "";
    String ran = new String(HITS, java.nio.charset.StandardCharsets.ISO_8859_1);
    Integer known = SETS.get(ran);
    StringBuilder text = new StringBuilder(",\"path\":").append(known == null ? SETS.size() : known);
    if (known == null) {
      SETS.put(ran, SETS.size());
      Map<String, Object> lines = new LinkedHashMap<>();
      for (int at = 0; at < HITS.length; at++) {
        if (HITS[at] == 0) continue;
        @SuppressWarnings("unchecked")
        List<Object> own = (List<Object>) lines.computeIfAbsent(FILES.get(at), file -> new ArrayList<>());
        if (own.isEmpty() || !own.get(own.size() - 1).equals(NUMBERS.get(at))) own.add(NUMBERS.get(at));
      }
      text.append(",\"lines\":").append(Json.write(lines));
    }
    Arrays.fill(HITS, (byte) 0);
    return text.toString();
  }
}
