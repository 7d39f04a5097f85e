import { runsLines } from "./lines";

const SOURCE = `

public class Choose {
  private final int most;

  Choose(int most) {
    super();
    this.most = most; // all
  }

  static int more(int n) {
    return n * 10; // all one two
  }

  static int choose(int n) {
    int found;
    int extra = 0; // all one two
    if (n == 1) // all one two
      return more(n); // all one
    else if (n == 3) { // all two
      found = 1; // all
    } else
      found = 2; // all two
    switch (n) { // all two
      case 2:
        outer: while (true) { // all two
          extra += 2; // all two
          break outer; // all two
        }
        break; // all two
      default:
        extra = 5; // all
    }
    return more(found) + extra; // all two
  }
}
`;

runsLines("java", "Choose.java", SOURCE);
