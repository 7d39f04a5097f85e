package marsh.gauge.wire;

/** Read by stations that are never updated: the name of this class is part of what they send. */
public final class Packet {
  private final int level;

  public Packet(int level) {
    this.level = level;
  }

  public String encode() {
    return Packet.class.getName() + ":" + level;
  }
}
